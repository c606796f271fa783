import type { Request, Response } from 'express'
import { pipeline } from 'node:stream/promises'
import type { ByteRange } from '../../server/capture/fileStore.ts'
import { databaseStore } from '../../server/capture/fileStore.ts'
import type { CurrentFile } from '../../server/capture/files.ts'
import type { Platform } from '../../server/platform.ts'

/** The stretch of a file that is asked for (RFC 9110 §14); `null` when there is no such stretch. */
export function rangeOf(request: Request, size: number): ByteRange | 'all' | null {
  const ranges = request.range(size)
  if (ranges === -1) return null
  const [range] = Array.isArray(ranges) && ranges.type === 'bytes' ? ranges : []
  return range ?? 'all'
}

/** Gives out a file, or a stretch of it, as fast as it is taken. */
export async function sendFile(
  { database, log }: Platform,
  request: Request,
  response: Response,
  file: Pick<CurrentFile, 'key' | 'size'>,
): Promise<void> {
  const { key, size } = file
  const range = rangeOf(request, size)
  // Stretches are of these very bytes: nobody compresses them on the way (RFC 9111 §5.2.2.6).
  response.set({
    'accept-ranges': 'bytes',
    'cache-control': `${response.get('cache-control') ?? 'private'}, no-transform`,
  })
  if (range === null) {
    response.status(416).set('content-range', `bytes */${size}`).end()
    return
  }
  const { start, end } = range === 'all' ? { start: 0, end: size - 1 } : range
  if (range !== 'all') response.status(206).set('content-range', `bytes ${start}-${end}/${size}`)
  response.set('content-length', String(end - start + 1))
  if (request.method === 'HEAD') {
    response.end()
    return
  }
  // Who goes away meanwhile has had enough of it.
  await pipeline(databaseStore(database).read(key, { start, end }), response).catch((error: unknown) =>
    log.debug({ err: error }, 'a download broke off'),
  )
}
