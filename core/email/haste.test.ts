import { describe, expect, it } from 'vitest'
import { decidedAfter, hasteLasts, isHasty, wasScanned } from './haste.ts'

const sentAt = Date.parse('2026-11-24T10:00:00Z')
const click = (given: Partial<Parameters<typeof isHasty>[0]> = {}): boolean =>
  isHasty({ purpose: 'marketing', sentAt, at: sentAt + 3_000, links: 3, ...given })

describe('a click that comes in haste', () => {
  it('comes within seconds of marketing that has several links', () => {
    expect(click()).toBe(true)
    expect(click({ at: sentAt + hasteLasts - 1 })).toBe(true)
    expect(click({ at: sentAt + hasteLasts })).toBe(false)
  })

  it('is none where haste tells nothing: one link, or something that somebody waits for', () => {
    expect(click({ links: 1 })).toBe(false)
    expect(click({ links: 0 })).toBe(false)
    expect(click({ purpose: 'transactional' })).toBe(false)
  })

  it('is that of a scanner when all links were followed, whatever else was', () => {
    expect(wasScanned([1, 2, 3], new Set([3, 1, 2, 9]))).toBe(true)
    expect(wasScanned([1, 2, 3], new Set([1, 3]))).toBe(false)
  })

  it('is decided about once no other one can be in haste', () => {
    expect(decidedAfter).toBeGreaterThan(hasteLasts)
  })
})
