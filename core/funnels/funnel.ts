import { z } from 'zod'
import { nowhere, webAddress, type Target } from '../blocks/target.ts'

/** What somebody wants who makes a funnel. */
export const goal = z.enum(['list', 'sell', 'session', 'waitingList', 'course', 'nothing'])
export type Goal = z.infer<typeof goal>

export const goals: Readonly<Record<Goal, string>> = {
  list: 'Grow the list',
  sell: 'Sell something',
  session: 'Fill a live session',
  waitingList: 'Open a waiting list',
  course: 'Give a short course',
  nothing: 'Something else',
}

/** A station keeps its id when it moves, so that a link to it stays right. */
const stationId = z.string().regex(/^[a-z0-9-]{1,40}$/)

/** Another page in the place of a station's, which a share of its visitors get (percent). */
const otherTrack = z.strictObject({
  page: z.number().int().positive(),
  share: z.number().int().min(1).max(99),
})

/**
 * A station of the line: one of the business's own pages, in two variants by choice, or an address elsewhere. What a
 * page is for (landing, order page, recording…) is the page's own; quizzes and junctions come with their part of the
 * product.
 */
export const station = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('page'),
    id: stationId,
    page: z.number().int().positive(),
    other: otherTrack.optional(),
  }),
  z.strictObject({ kind: z.literal('quiz'), id: stationId, quiz: z.number().int().positive() }),
  z.strictObject({ kind: z.literal('junction'), id: stationId, junction: z.number().int().positive() }),
  z.strictObject({
    kind: z.literal('outside'),
    id: stationId,
    name: z.string().trim().min(1, 'Give it a name').max(80),
    url: webAddress,
  }),
])
export type Station = z.infer<typeof station>

/** The pages of a station: none, one, or two that share its visitors. */
export const pagesOf = (each: Station): number[] =>
  each.kind !== 'page' ? [] : each.other ? [each.page, each.other.page] : [each.page]

/** A longer line is two. */
export const mostStations = 40

/** The stations of a funnel in the order in which people come by them. */
export const stations = z
  .array(station)
  .max(mostStations, `A funnel can have ${mostStations} steps; make two of it`)
  .superRefine((all, context) => {
    const [ids, pages] = [new Set<string>(), new Set<number>()]
    all.forEach((each, i) => {
      const here = pagesOf(each)
      const isTwice =
        ids.has(each.id) || new Set(here).size < here.length || here.some((page) => pages.has(page))
      ids.add(each.id)
      for (const page of here) pages.add(page)
      if (isTwice)
        context.addIssue({ code: 'custom', path: [i], message: 'This step is in the funnel twice' })
    })
  })

export const label = z.string().trim().min(1).max(40)

/** Where "next step" leads from a page or a junction: to the station behind it, in the first funnel that has one. */
export function stationAfter(
  funnels: readonly (readonly Station[])[],
  isHere: (station: Station) => boolean,
): Station | null {
  for (const line of funnels) {
    const here = line.findIndex(isHere)
    const next = here < 0 ? undefined : line[here + 1]
    if (next) return next
  }
  return null
}

/** What a step is as a target of links; nowhere when there is none. */
export function targetOfStation(station: Station | null): Target {
  switch (station?.kind) {
    case 'page':
      return { to: 'page', page: station.page }
    case 'junction':
      return { to: 'junction', junction: station.junction }
    case 'outside':
      return { to: 'web', url: station.url }
    case 'quiz':
      return { to: 'quiz', quiz: station.quiz }
    case undefined:
      return nowhere
  }
}

/** Takes a station to another place of the line. */
export function moveStation(line: readonly Station[], id: string, to: number): Station[] {
  const moving = line.find((each) => each.id === id)
  if (!moving) return [...line]
  const others = line.filter((each) => each.id !== id)
  const place = Math.max(0, Math.min(others.length, to))
  return [...others.slice(0, place), moving, ...others.slice(place)]
}
