import { fileTypeFromBuffer } from 'file-type'
import sharp, { type Sharp } from 'sharp'
import type { PictureView } from '../../contract/pages.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import type { Platform } from '../platform.ts'
import { randomToken } from '../signing.ts'
import { queueJobs } from '../work/jobs.ts'
import { usesOf } from './usage.ts'

/** Widths that pictures are made in, as far as the original is as wide (px). */
const widths = [320, 640, 1_000, 1_600]

/** Largest picture that is taken in, before it is unpacked (pixels). */
const mostPixels = 50_000_000
export const largestPicture = 20 * 1024 * 1024

/** Formats whose bytes are looked at; SVG is none of them, since it can hold scripts. */
const accepted = new Set(['image/jpeg', 'image/png', 'image/webp', 'image/avif', 'image/gif'])

const refused = (title: string, detail: string): Problem => new Problem(422, title, detail)

interface Made {
  width: number
  height: number
  files: { width: number; format: 'webp' | 'jpg'; content: Buffer }[]
}

const fileOf =
  (width: number, format: 'webp' | 'jpg') =>
  (content: Buffer): Made['files'][number] => ({ width, format, content })

/** Makes the widths of a picture. What its bytes are counts, not its name. @throws Problem 422 */
async function makeWidths(original: Buffer): Promise<Made> {
  const type = await fileTypeFromBuffer(original)
  if (!type || !accepted.has(type.mime))
    throw refused(
      'This is no picture that can be used',
      'Use a JPEG, PNG, WebP, AVIF or GIF file. An SVG can hold scripts: save it as PNG.',
    )
  const open = (): Sharp => sharp(original, { limitInputPixels: mostPixels, failOn: 'error' }).autoOrient()
  try {
    const { autoOrient } = await open().metadata()
    const { width, height } = autoOrient
    const wanted = widths.filter((each) => each < width)
    const all = wanted.length < widths.length ? [...wanted, Math.min(width, widths.at(-1) ?? width)] : wanted
    // Read and made smaller once; the other widths are made of that.
    const largest = await open()
      .resize({ width: all.at(-1) ?? width, withoutEnlargement: true })
      .raw()
      .toBuffer({ resolveWithObject: true })
    const files = await Promise.all(
      all.flatMap((each) => {
        const { channels, ...size } = largest.info
        const resized = sharp(largest.data, { raw: { ...size, channels } }).resize({ width: each })
        return [
          resized.clone().webp({ quality: 80 }).toBuffer().then(fileOf(each, 'webp')),
          resized.flatten({ background: '#fff' }).jpeg({ quality: 82 }).toBuffer().then(fileOf(each, 'jpg')),
        ]
      }),
    )
    return { width, height, files }
  } catch (error) {
    if (/pixel limit/i.test(String(error)))
      throw refused('This picture is too large', 'At most 50 megapixels are taken in. Make it smaller first.')
    throw refused('This picture cannot be read', 'The file is broken. Save it again and upload that.')
  }
}

/** Stores a picture in all its widths, or puts it in the place of another one. @returns its id */
export async function storePicture(
  q: Queries,
  {
    name,
    alt = '',
    replaces,
    content,
  }: { name: string; alt?: string; replaces?: number | undefined; content: Buffer },
  at: Date,
): Promise<number> {
  const { width, height, files } = await makeWidths(content)
  const edition = randomToken().replace(/[-_]/g, '').slice(0, 8)
  const row =
    replaces === undefined
      ? await q.row<{ id: number }>(
          `insert into picture (name, alt, width, height, edition, created_at)
           values ($1, $2, $3, $4, $5, $6) returning id`,
          [name, alt, width, height, edition, at],
        )
      : await q.row<{ id: number }>(
          'update picture set width = $2, height = $3, edition = $4 where id = $1 returning id',
          [replaces, width, height, edition],
        )
  if (!row) throw notFound('This picture')
  await q.rows('delete from picture_file where picture_id = $1', [row.id])
  for (const file of files)
    await q.rows('insert into picture_file (picture_id, width, format, content) values ($1, $2, $3, $4)', [
      row.id,
      file.width,
      file.format,
      file.content,
    ])
  if (replaces !== undefined) await queueJobs(q, 'renewEmails', [{}])
  await announce(q, 'pages')
  return row.id
}

/** The bytes of one width of a picture. @throws Problem 404 */
export async function pictureFile(
  q: Queries,
  { id, edition, width, format }: { id: number; edition: string; width: number; format: string },
): Promise<Buffer> {
  const file = await q.row<{ content: Buffer }>(
    `select content from picture_file join picture on picture.id = picture_id
     where picture_id = $1 and format = $4
       -- Mail that was sent keeps the address of a picture that has been replaced since.
       and (edition <> $2 or picture_file.width = $3)
     order by picture_file.width = $3 desc, picture_file.width desc limit 1`,
    [id, edition, width, format],
  )
  if (!file) throw notFound('This picture')
  return file.content
}

/** The largest width of a picture as it can be stored again (WebP). @throws Problem 404 */
export async function pictureBytes(q: Queries, id: number): Promise<Buffer> {
  const file = await q.row<{ content: Buffer }>(
    `select content from picture_file where picture_id = $1 and format = 'webp' order by width desc limit 1`,
    [id],
  )
  if (!file) throw notFound('This picture')
  return file.content
}

/** All pictures, newest first, with where each is used. */
export async function listPictures(q: Queries): Promise<PictureView[]> {
  const rows = await q.rows<Omit<PictureView, 'usedIn' | 'base'> & { edition: string }>(
    `select id, name, alt, edition, width, height, created_at "createdAt",
       to_json(array(select width from picture_file where picture_id = picture.id and format = 'webp' order by 1)) widths
     from picture order by id desc`,
  )
  const uses = await usesOf(
    q,
    'picture',
    rows.map(({ id }) => id),
  )
  return rows.map(({ edition, createdAt, ...row }) => ({
    ...row,
    base: `/pictures/${row.id}-${edition}`,
    createdAt: new Date(createdAt).toISOString(),
    usedIn: uses.get(row.id) ?? [],
  }))
}

export async function editPicture(
  platform: Platform,
  id: number,
  { name, alt }: { name: string; alt: string },
): Promise<void> {
  const row = await platform.database.row(
    'update picture set name = $2, alt = $3 where id = $1 returning id',
    [id, name, alt],
  )
  if (!row) throw notFound('This picture')
  await announce(platform.database, 'pages')
}

/** @throws Problem 409 when pages still show it */
export async function deletePicture(platform: Platform, id: number): Promise<void> {
  const q = platform.database
  const usedIn = (await usesOf(q, 'picture', [id])).get(id)
  if (usedIn)
    throw new Problem(409, 'This picture is in use', `Take it out of these first: ${usedIn.join(', ')}.`)
  await q.rows('delete from picture where id = $1', [id])
  await announce(q, 'pages')
}
