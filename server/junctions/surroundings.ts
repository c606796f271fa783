import { target as targetShape } from '../../core/blocks/target.ts'
import { waysOf, type JunctionSurroundings } from '../../core/junctions/junctionFindings.ts'
import type { JunctionContent } from '../../core/junctions/junction.ts'
import { idsOf } from '../audience/describing/knownThings.ts'
import { openFields } from '../audience/describing/fields.ts'
import { loadAllNames } from '../audience/segments/names.ts'
import { loadContext } from '../audience/segments/evaluationContext.ts'
import type { Queries } from '../database/connect.ts'
import { loadSite } from '../pages/site.ts'

/**
 * What the install says about the things that a junction speaks of.
 * @param publicUrl where the public site is found: by that a web address that leads back here is told
 */
export async function loadJunctionSurroundings(
  q: Queries,
  { rules }: JunctionContent,
  publicUrl: string | null,
): Promise<JunctionSurroundings> {
  const site = await loadSite(q)
  const { segments, scorecards } = await loadContext(
    q,
    rules.map(({ when }) => when),
  )
  const links = await q.rows<{ id: number; target: unknown }>('select id, target from named_link')
  return {
    names: await loadAllNames(q),
    cards: scorecards,
    segments,
    fields: await openFields(q),
    livePages: new Set([...site.pages.values()].filter(({ live }) => live).map(({ id }) => id)),
    liveForms: new Set(site.forms.keys()),
    livePopUps: new Set(site.popUps.map(({ id }) => id)),
    files: await idsOf(q, 'file'),
    namedLinks: new Map(links.map(({ id, target }) => [id, targetShape.parse(target)])),
    junctions: new Map(
      [...site.junctions.values()].map(({ id, name, path, content }) => [
        id,
        { name, path, targets: waysOf(content).map(({ target }) => target) },
      ]),
    ),
    ownHosts: new Set([
      ...(publicUrl === null ? [] : [new URL(publicUrl).hostname]),
      ...site.settings.domains,
    ]),
  }
}
