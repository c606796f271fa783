import { junctionContent, type JunctionContent } from '../core/junctions/junction.ts'
import type { z } from 'zod'
import { made } from './people.ts'
import { lookAt } from './publishing.ts'
import type { Used } from './useInstall.ts'
import { eventually } from './waiting.ts'

/** A junction of these rules. */
export const junctionOf = (given: z.input<typeof junctionContent>): JunctionContent =>
  junctionContent.parse(given)

/** Makes a junction. @returns its id */
export const makeJunction = async (on: Used, name: string, content: JunctionContent): Promise<number> =>
  (await made<{ id: number }>(on.mara.post('/junctions', { name, content }))).id

/** Makes a junction that sends visitors on, and waits until it does. @returns its id */
export async function liveJunction(on: Used, path: string, content: JunctionContent): Promise<number> {
  const id = await makeJunction(on, path, content)
  const answer = await on.mara.post(`/junctions/${id}/publish`, { version: 1, revision: 1 })
  if (answer.status !== 204) throw new Error(await answer.text())
  await eventually(
    async () => (await lookAt(`${on.install.url}/j/${path}`, { 'user-agent': 'testbot' })).status !== 404,
  )
  return id
}
