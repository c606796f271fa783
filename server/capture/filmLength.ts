import { createReadStream } from 'node:fs'
import { createFile, MP4BoxBuffer } from 'mp4box'

/**
 * How long a film lasts (seconds), read from its movie header (ISO/IEC 14496-12 §8.2.2), wherever in the file that
 * stands; null where it says nothing, and for other formats than MP4 and its kin.
 */
export async function filmLength(path: string): Promise<number | null> {
  const film = createFile(false)
  const read: { seconds: number | null } = { seconds: null }
  film.onReady = ({ duration, timescale }) => {
    read.seconds = timescale > 0 ? duration / timescale : null
  }
  let at = 0
  for await (const chunk of createReadStream(path) as AsyncIterable<Buffer>) {
    const bytes = Uint8Array.from(chunk).buffer
    film.appendBuffer(MP4BoxBuffer.fromArrayBuffer(bytes, at))
    at += chunk.length
    if (read.seconds !== null) break
  }
  film.flush()
  return read.seconds
}
