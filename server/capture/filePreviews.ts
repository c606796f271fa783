import { spawn } from 'node:child_process'
import { createWriteStream } from 'node:fs'
import { mkdtemp, readFile, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import sharp from 'sharp'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { databaseStore } from './fileStore.ts'
import { filmLength } from './filmLength.ts'

/** A preview is at most so wide and high (px). */
const side = 480
/** A tool that takes longer is stopped (ms). */
const patience = 20_000

/** Runs a tool. @returns whether it is there and has done its work */
function run(command: string, given: readonly string[]): Promise<boolean> {
  return new Promise((resolve) => {
    const child = spawn(command, given, { stdio: 'ignore', timeout: patience, killSignal: 'SIGKILL' })
    child.on('error', () => resolve(false))
    child.on('close', (code) => resolve(code === 0))
  })
}

/** Draws a file to a JPEG beside it. @returns its path, or null when nothing on this machine can */
type Drawing = (file: string, folder: string) => Promise<string | null>

/** What draws each sort of file: pictures by a library, the rest by a tool where one is installed. */
const drawings: readonly { of: RegExp; draw: Drawing }[] = [
  { of: /^image\//, draw: (file) => Promise.resolve(file) },
  {
    of: /^application\/pdf$/,
    draw: async (file, folder) => {
      const to = join(folder, 'page')
      const given = ['-jpeg', '-singlefile', '-f', '1', '-scale-to', String(side), file, to]
      return (await run('pdftoppm', given)) ? `${to}.jpg` : null
    },
  },
  {
    of: /^video\//,
    draw: async (file, folder) => {
      const to = join(folder, 'still.jpg')
      const given = ['-loglevel', 'quiet', '-ss', '1', '-i', file, '-frames:v', '1', to]
      return (await run('ffmpeg', given)) ? to : null
    },
  },
]

/** Makes the small picture of a file's version, and looks how long a film is: the work of the job `previewFile`. What cannot be told stays open. */
export async function previewFile(
  { database, log }: Platform,
  { file, version }: { file: number; version: number },
): Promise<void> {
  const found = await database.row<{ key: string; mediaType: string }>(
    'select key, media_type "mediaType" from file_version where file_id = $1 and number = $2',
    [file, version],
  )
  const drawing = found && drawings.find(({ of }) => of.test(found.mediaType))
  if (!drawing) return
  const folder = await mkdtemp(join(tmpdir(), 'nurtel-preview-'))
  try {
    const path = join(folder, 'file')
    await pipeline(databaseStore(database).read(found.key), createWriteStream(path))
    if (found.mediaType.startsWith('video/'))
      await database.rows('update file_version set seconds = $3 where file_id = $1 and number = $2', [
        file,
        version,
        await filmLength(path),
      ])
    const drawn = await drawing.draw(path, folder)
    if (drawn === null) return
    const preview = await sharp(await readFile(drawn), { limitInputPixels: 50_000_000 })
      .rotate()
      .resize(side, side, { fit: 'inside', withoutEnlargement: true })
      .flatten({ background: '#ffffff' })
      .jpeg({ quality: 78 })
      .toBuffer()
    await database.rows('update file_version set preview = $3 where file_id = $1 and number = $2', [
      file,
      version,
      preview,
    ])
    await announce(database, 'pages')
  } catch (error) {
    // A file that cannot be drawn is none the worse for it.
    log.warn({ err: error, file }, 'no preview')
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}
