import { gunzipSync } from 'node:zlib'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { gzipPieces } from './gzipPieces.ts'

const bytes = fc.uint8Array({ maxLength: 2_000 }).map((each) => Buffer.from(each))

describe('pieces compressed once', () => {
  it('are read by zlib as what they are with whatever stands between them', () => {
    fc.assert(
      fc.property(fc.array(bytes, { minLength: 1, maxLength: 4 }), fc.array(bytes), (pieces, betweens) => {
        const compressed = gzipPieces(pieces)
        for (const between of betweens) {
          const whole = Buffer.concat(pieces.flatMap((piece, i) => (i === 0 ? [piece] : [between, piece])))
          // zlib checks the sum and the length that stand at the end (RFC 1952).
          expect(gunzipSync(Buffer.concat(compressed(between)))).toEqual(whole)
        }
      }),
    )
  })

  it('are as small as a page compressed in one go, but for a few dozen bytes', () => {
    const markup = '<p>The same words again and again, as in markup.</p>'.repeat(100)
    const pieces = [markup, markup].map((each) => Buffer.from(each))
    expect(Buffer.concat(gzipPieces(pieces)(Buffer.from('token'))).length).toBeLessThan(400)
  })
})
