import { constants, crc32, deflateRawSync } from 'node:zlib'

/** The header of a gzip member without name and time, from whatever system (RFC 1952 §2.3). */
const head = Buffer.from([0x1f, 0x8b, 8, 0, 0, 0, 0, 0, 0, 0xff])

/** An empty last block (RFC 1951 §3.2.4). */
const lastBlock = Buffer.from([1, 0, 0, 0xff, 0xff])

/** Bytes as a block that is not compressed and not the last. */
function stored(bytes: Buffer): Buffer {
  const lengths = Buffer.alloc(5)
  lengths.writeUInt16LE(bytes.length, 1)
  lengths.writeUInt16LE(~bytes.length & 0xffff, 3)
  return Buffer.concat([lengths, bytes])
}

/** The check sum goes on with more bytes. Node.js starts anew at an empty buffer that went through zlib before. */
const checked = (sum: number, bytes: Buffer): number => (bytes.length === 0 ? sum : crc32(bytes, sum))

/**
 * Compresses pieces once, so that each view pays only for what stands between them: compressing a page anew for a
 * form's token takes several times what all the rest of its answer does.
 * @returns what makes one gzip member of all pieces with these bytes between them (at most 65,535)
 */
export function gzipPieces(pieces: readonly Buffer[]): (between: Buffer) => Buffer[] {
  // Flushed in full, each piece ends on a byte and refers to nothing before itself.
  const deflated = pieces.map((piece) =>
    deflateRawSync(piece, { level: 9, finishFlush: constants.Z_FULL_FLUSH }),
  )
  return (between) => {
    const block = stored(between)
    const end = Buffer.alloc(8)
    const check = pieces.reduce((sum, piece, i) => checked(i === 0 ? 0 : checked(sum, between), piece), 0)
    const size = pieces.reduce((sum, { length }) => sum + length, between.length * (pieces.length - 1))
    end.writeUInt32LE(check, 0)
    end.writeUInt32LE(size % 2 ** 32, 4)
    return [
      head,
      ...deflated.flatMap((piece, i) => (i === 0 ? [piece] : [block, piece])),
      Buffer.concat([lastBlock, end]),
    ]
  }
}
