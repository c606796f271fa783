import { pipeline } from 'node:stream/promises'
import { Readable } from 'node:stream'
import type { Response } from 'express'

/** Sends pieces as a file to be saved. A fault before the first piece is answered as any other. */
export async function sendFile(
  response: Response,
  name: string,
  mediaType: string,
  pieces: AsyncGenerator<string>,
): Promise<void> {
  const first = await pieces.next()
  response.attachment(name).type(mediaType)
  const rest = async function* (): AsyncGenerator<string> {
    if (!first.done) yield first.value
    yield* pieces
  }
  await pipeline(Readable.from(rest()), response)
}
