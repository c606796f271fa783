import { fieldKey } from '../../core/blocks/mergeText.ts'
import { mergeNameOfJunction } from '../../core/blocks/mergeValues.ts'
import { documentsNaming } from '../blocks/sharedDetails.ts'
import type { Queries } from '../database/connect.ts'
import { usesOf } from '../pages/usage.ts'

/** Where each of these junctions is used, in words: what leads to it, and texts that name the link to it. */
export async function usesOfJunctions(q: Queries, ids: readonly number[]): Promise<Map<number, string[]>> {
  const led = await usesOf(q, 'junction', ids)
  const rows = await q.rows<{ id: number; paths: string[] }>(
    `select id, to_json(path || array(select path from junction_former_path where junction_id = id)) paths
     from junction where id = any($1)`,
    [ids],
  )
  const texts = await documentsNaming(q)
  return new Map(
    rows.map(({ id, paths }) => {
      const keys = paths.map((path) => fieldKey(mergeNameOfJunction(path)))
      const named = texts.filter((each) => keys.some((key) => each.keys.has(key))).map(({ place }) => place)
      return [id, [...new Set([...(led.get(id) ?? []), ...named])].sort()]
    }),
  )
}
