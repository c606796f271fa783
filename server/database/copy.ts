import type { Readable } from 'node:stream'
import pg from 'pg'
import type { Platform } from '../platform.ts'
import { namedConnection } from './connect.ts'

/** A connection of its own, for streams that keep it busy. */
export async function openClient(platform: Platform): Promise<pg.Client> {
  const client = new pg.Client({ connectionString: namedConnection(platform.settings.databaseUrl) })
  // A connection that is ended from outside fails what runs on it; the news of it is not for anybody else.
  client.on('error', () => undefined)
  await client.connect()
  return client
}

/** The lines of a COPY of numbers in text format, a piece of the stream at a time: a line is a row. */
export async function* linesOf(stream: Readable): AsyncGenerator<string[]> {
  let rest = ''
  for await (const chunk of stream as AsyncIterable<Buffer>) {
    const lines = (rest + chunk.toString('latin1')).split('\n')
    rest = lines.pop() ?? ''
    yield lines
  }
  if (rest !== '') yield [rest]
}

/** Lines put together: a stream that passes on every line by itself spends its time on passing on. */
export async function* inChunks(lines: AsyncIterable<string>, size = 64_000): AsyncGenerator<string> {
  let chunk = ''
  for await (const line of lines) {
    chunk += line
    if (chunk.length < size) continue
    yield chunk
    chunk = ''
  }
  if (chunk !== '') yield chunk
}
