import type { RouteMeta, Router } from 'vue-router'

/** A screen that one can go to without choosing anything first. */
export interface Place {
  title: string
  detail: string
  to: string
}

/** The stations of the line, in its order. Those without a screen are not open yet. */
export const stations = ['Today', 'People', 'Funnels', 'Follow-ups', 'Library', 'Results', 'Outbox'] as const
export type Station = (typeof stations)[number]

declare module 'vue-router' {
  interface RouteMeta {
    title: string
    /** The station of the line that the screen belongs to. */
    station?: Station
    /** What one finds there, for who goes to it by its name; screens of one thing have none. */
    detail?: string
    /** Its place among the tabs of its station, and what it is called there. */
    tab?: string
  }
}

/** The screens without an id in their path, in the order in which the routes stand. */
const staticRoutes = (router: Router): { path: string; meta: Partial<RouteMeta> }[] =>
  router.options.routes
    .filter(({ path }) => !path.includes(':'))
    .map(({ path, meta }) => ({ path, meta: meta ?? {} }))

/** Where a station of the line leads: its first screen; null while it has none. */
export function stationPath(router: Router, station: Station): string | null {
  return staticRoutes(router).find(({ meta }) => meta.station === station)?.path ?? null
}

/** The tabs of a station, in the order of the routes. */
export function stationTabs(router: Router, station: Station): { title: string; to: string }[] {
  return staticRoutes(router).flatMap(({ meta, path }) =>
    meta.station === station && meta.tab !== undefined ? [{ title: meta.tab, to: path }] : [],
  )
}

/** Every screen that can be gone to by its name. */
export function places(router: Router): Place[] {
  return staticRoutes(router).flatMap(({ meta, path }) =>
    meta.detail === undefined || meta.title === undefined
      ? []
      : [{ title: meta.title, detail: meta.detail, to: path }],
  )
}
