import { Readable } from 'node:stream'
import type { Queries } from '../database/connect.ts'
import { randomToken } from '../signing.ts'

/** A stretch of a file, both ends included (bytes). */
export interface ByteRange {
  start: number
  end: number
}

/** What was taken in. */
export interface Stored {
  key: string
  size: number
  /** The first bytes, by which it is told what the file is. */
  head: Buffer
}

/** Where files lie. It holds at most a few pieces of each in memory. */
export interface FileStore {
  /**
   * Takes bytes in as they come; what breaks off or is refused leaves nothing behind.
   * @param refuse throws when it is too much, told the size so far
   */
  write(bytes: AsyncIterable<Buffer>, at: Date, refuse: (size: number) => void): Promise<Stored>
  /** Gives the bytes out as they are taken. */
  read(key: string, range?: ByteRange): Readable
  delete(key: string): Promise<void>
}

/** Small enough that twenty downloads at once are a few megabytes, large enough that a piece is worth a statement. */
const pieceSize = 64 * 1024

/** As much as tells what an archive of several parts is. */
const headSize = 64 * 1024

/** A store in the database: a backup has it all, and any process can read it. */
export function databaseStore(q: Queries): FileStore {
  const remove = async (key: string): Promise<void> => {
    await q.rows('delete from stored_file where key = $1', [key])
  }

  async function writePieces(
    key: string,
    bytes: AsyncIterable<Buffer>,
    refuse: (size: number) => void,
  ): Promise<Stored> {
    let [size, n, held] = [0, 0, 0]
    let head = Buffer.alloc(0)
    let waiting: Buffer[] = []
    const store = async (piece: Buffer): Promise<void> => {
      await q.rows('insert into file_piece (key, n, data) values ($1, $2, $3)', [key, n, piece])
      n += 1
    }
    for await (const chunk of bytes) {
      size += chunk.length
      refuse(size)
      if (head.length < headSize) head = Buffer.concat([head, chunk]).subarray(0, headSize)
      waiting.push(chunk)
      held += chunk.length
      if (held < pieceSize) continue
      const all = Buffer.concat(waiting)
      let from = 0
      for (; from + pieceSize <= all.length; from += pieceSize)
        await store(all.subarray(from, from + pieceSize))
      waiting = [all.subarray(from)]
      held = all.length - from
    }
    if (held > 0) await store(Buffer.concat(waiting))
    return { key, size, head }
  }

  async function* readPieces(key: string, { start, end }: ByteRange): AsyncGenerator<Buffer> {
    for (let n = Math.floor(start / pieceSize); n * pieceSize <= end; n += 1) {
      const row = await q.row<{ data: Buffer }>('select data from file_piece where key = $1 and n = $2', [
        key,
        n,
      ])
      if (!row) return
      const from = Math.max(0, start - n * pieceSize)
      yield row.data.subarray(from, end - n * pieceSize + 1)
    }
  }

  return {
    async write(bytes, at, refuse) {
      const key = randomToken()
      await q.rows('insert into stored_file (key, created_at) values ($1, $2)', [key, at])
      try {
        return await writePieces(key, bytes, refuse)
      } catch (error) {
        await remove(key)
        throw error
      }
    },
    // One piece at a time: a slow reader holds no more.
    read: (key, range = { start: 0, end: Number.MAX_SAFE_INTEGER }) =>
      Readable.from(readPieces(key, range), { highWaterMark: 1 }),
    delete: remove,
  }
}

/** Looks through a file before it is given to anybody; a business may bring one of its own. */
export interface FileScanner {
  /** @returns what is wrong with the file, or null */
  faultOf(read: () => Readable): Promise<string | null>
}

/** Finds nothing. */
export const noScanner: FileScanner = { faultOf: () => Promise.resolve(null) }
