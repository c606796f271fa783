import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { tinyFilm } from '../../testing/tinyFilm.ts'
import { filmLength } from './filmLength.ts'

let folder = ''
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'nurtel-film-'))
})
afterAll(() => rm(folder, { recursive: true, force: true }))

const lengthOf = async (bytes: Buffer): Promise<number | null> => {
  await writeFile(join(folder, 'film'), bytes)
  return filmLength(join(folder, 'film'))
}

it.each([1, 40, 3_725])('a film of %d seconds says so in its header', async (seconds) => {
  expect(await lengthOf(tinyFilm(seconds))).toBe(seconds)
})

it('what is no film, is cut off or says nothing has no length', async () => {
  expect(await lengthOf(Buffer.from('Fold along the grain.'))).toBeNull()
  expect(await lengthOf(Buffer.alloc(0))).toBeNull()
  expect(await lengthOf(tinyFilm(40).subarray(0, 60))).toBeNull()
})
