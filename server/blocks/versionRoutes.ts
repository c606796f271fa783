import type { Router } from 'express'
import type { versionRoutes } from '../../contract/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { handle } from '../http/handle.ts'
import type { Platform } from '../platform.ts'
import type { Doing, draftsOf } from './drafts.ts'

/** The kind of a thing with versions, as far as its routes need it. */
interface Kind {
  drafts: Pick<ReturnType<typeof draftsOf<never>>, 'publish' | 'goBack' | 'archive'>
  /** @returns the id of the copy */
  copy: (q: Queries, id: number, doing: Doing) => Promise<number>
  remove: (q: Queries, id: number) => Promise<void>
}

/** Serves what can be done with everything that has versions. */
export function serveVersions<Path extends string>(
  { database, clock }: Platform,
  routes: Router,
  of: ReturnType<typeof versionRoutes<Path>>,
  { drafts, copy, remove }: Kind,
): void {
  // Whatever the things are called in the path, it has one id.
  const things = of as unknown as ReturnType<typeof versionRoutes<'/things'>>
  const doing = (by: string): Doing => ({ by, at: new Date(clock.now()) })

  handle(routes, things.publish, ({ params, body, by }) =>
    database.inTransaction((tx) => drafts.publish(tx, params.id, body, doing(by))),
  )
  handle(routes, things.goBack, ({ params, body, by }) =>
    database.inTransaction((tx) => drafts.goBack(tx, params.id, body.version, doing(by))),
  )
  handle(
    routes,
    things.copy,
    async ({ params, by }) => ({ id: await database.inTransaction((tx) => copy(tx, params.id, doing(by))) }),
    { status: 201 },
  )
  handle(routes, things.archive, ({ params, body }) =>
    drafts.archive(database, params.id, body.archived, new Date(clock.now())),
  )
  handle(routes, things.delete, ({ params }) => database.inTransaction((tx) => remove(tx, params.id)))
}
