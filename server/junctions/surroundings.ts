import type { Target } from '../../core/blocks/target.ts'
import { stationAfter, targetOfStation, type Station } from '../../core/funnels/funnel.ts'
import { circleBy, type JunctionSurroundings } from '../../core/junctions/junctionFindings.ts'
import { waysOf, type JunctionContent } from '../../core/junctions/junction.ts'
import { idsOf } from '../audience/describing/knownThings.ts'
import { openFields } from '../audience/describing/fields.ts'
import { loadAllNames } from '../audience/segments/names.ts'
import { loadContext } from '../audience/segments/evaluationContext.ts'
import type { Queries } from '../database/connect.ts'
import { loadSite } from '../pages/site.ts'

/** Where "next step" leads from each junction on the line of a funnel, live or about to be. */
async function nextSteps(q: Queries): Promise<ReadonlyMap<number, Target>> {
  const rows = await q.rows<{ line: Station[] }>(
    'select stations line from funnel where archived_at is null order by live_at nulls last, id',
  )
  const lines = rows.map(({ line }) => line)
  const onLines = lines.flat().flatMap((each) => (each.kind === 'junction' ? [each.junction] : []))
  return new Map(
    onLines.flatMap((id): [number, Target][] => {
      const next = stationAfter(lines, (each) => each.kind === 'junction' && each.junction === id)
      return next ? [[id, targetOfStation(next)]] : []
    }),
  )
}

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
  return {
    names: await loadAllNames(q),
    cards: scorecards,
    segments,
    fields: await openFields(q),
    livePages: new Set([...site.pages.values()].filter(({ live }) => live).map(({ id }) => id)),
    liveForms: new Set(site.forms.keys()),
    livePopUps: new Set(site.popUps.map(({ id }) => id)),
    liveQuizzes: new Set(site.quizzes.keys()),
    products: new Set(site.products.keys()),
    files: await idsOf(q, 'file'),
    namedLinks: site.namedLinks,
    junctions: new Map(
      [...site.junctions.values()].map(({ id, name, path, content }) => [
        id,
        { name, path, targets: waysOf(content).map(({ target }) => target) },
      ]),
    ),
    nextOf: await nextSteps(q),
    ownHosts: new Set([
      ...(publicUrl === null ? [] : [new URL(publicUrl).hostname]),
      ...site.settings.domains,
    ]),
  }
}

/** Would a named link that led to this junction come back to it, since the junction leads on by that link? */
export async function leadsByLink(q: Queries, junction: number, link: number): Promise<boolean> {
  const { junctions } = await loadSite(q)
  const content = junctions.get(junction)?.content
  if (!content) return false
  const now = await loadJunctionSurroundings(q, content, null)
  const around = {
    ...now,
    namedLinks: new Map(now.namedLinks).set(link, { to: 'junction', junction } as const),
  }
  return waysOf(content).some(({ target }) => circleBy(junction, target, around) !== null)
}
