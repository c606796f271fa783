import { Router } from 'express'
import * as api from '../../contract/api.ts'
import { emptyProgram } from '../../core/followups/starters.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { handle } from '../http/handle.ts'
import { announce } from '../http/live.ts'
import type { WebPlatform } from '../platform.ts'
import { getBusiness } from '../workspace/business.ts'
import { copyFollowup, createFollowup, programFrom } from './creating.ts'
import { changeState } from './states.ts'
import { deleteFollowup } from './deleting.ts'
import { enrolmentsOf } from './enrolments.ts'
import { followupDrafts } from './followupDrafts.ts'
import { goLive, previewGoingLive } from './goingLive.ts'
import { letRehearsingIn } from './manualEnrolment.ts'
import { movePeople } from './moving.ts'
import { numbersOf } from './numbers.ts'
import { journalOf, listInside } from './peopleInside.ts'
import { jump, setRehearsal } from './rehearsal.ts'
import { startOver, viewStage } from './stage.ts'
import { retrySetAside } from './setAside.ts'
import { listFollowups, rehearsalMaterial, viewFollowup } from './views.ts'

/** Follow-ups, and where people are in them. */
export function followupRoutes(platform: WebPlatform): Router {
  const routes = Router()
  const { database, clock } = platform
  const { followups, people, setAside } = api
  const doing = (by: string): Doing => ({ by, at: new Date(clock.now()) })

  handle(routes, followups.list, () => listFollowups(platform))
  handle(routes, followups.view, ({ params, by }) => viewFollowup(platform, params.id, doing(by)))
  handle(
    routes,
    followups.create,
    async ({ body, by }) => {
      const { zone } = await getBusiness(database)
      const make = async (tx: Queries): Promise<number> => {
        const from = body.content ?? (body.starter === undefined ? emptyProgram(zone) : null)
        const program = from ?? (await programFrom(tx, body.starter ?? '', body.name, zone, doing(by)))
        return createFollowup(tx, body.name, program, doing(by))
      }
      return { id: await database.inTransaction(make) }
    },
    { status: 201 },
  )
  handle(routes, followups.rename, async ({ params, body }) => {
    await followupDrafts.thing(database, params.id)
    await database.rows('update followup set name = $2 where id = $1', [params.id, body.name])
    await announce(database, 'followups')
  })
  handle(routes, followups.save, ({ params, body, by }) =>
    database.inTransaction((tx) => followupDrafts.save(tx, params.id, body, doing(by))),
  )
  handle(routes, followups.goBack, ({ params, body, by }) =>
    database.inTransaction((tx) => followupDrafts.goBack(tx, params.id, body.version, doing(by))),
  )
  handle(
    routes,
    followups.copy,
    async ({ params, by }) => ({
      id: await database.inTransaction((tx) => copyFollowup(tx, params.id, doing(by))),
    }),
    { status: 201 },
  )
  handle(routes, followups.delete, ({ params }) => deleteFollowup(platform, params.id))
  handle(routes, followups.goingLive, ({ params }) => previewGoingLive(database, params.id))
  handle(routes, followups.goLive, ({ params, body, by }) => goLive(platform, params.id, body, by))
  handle(routes, followups.changeState, ({ params, body, by }) => changeState(platform, params.id, body, by))
  handle(routes, followups.numbers, ({ params }) => numbersOf(platform, params.id))
  handle(routes, followups.inside, async ({ params, query }) => {
    await followupDrafts.thing(database, params.id)
    return listInside(database, params.id, query)
  })
  handle(routes, followups.move, async ({ params, body, by }) => ({
    moved: await movePeople(platform, params.id, body, by),
  }))
  handle(routes, followups.journal, async ({ params, query }) => {
    await followupDrafts.thing(database, params.id)
    return journalOf(database, params.id, query.after)
  })
  handle(routes, followups.rehearsal, ({ params, query }) =>
    rehearsalMaterial(platform, params.id, query.person),
  )
  handle(routes, setAside.retry, ({ params }) => retrySetAside(platform, params.id))
  handle(routes, people.enrolments, ({ params }) => enrolmentsOf(platform, params.id))
  handle(routes, people.setRehearsal, ({ params, body }) => setRehearsal(platform, params.id, body.on))
  handle(routes, people.jump, ({ params, body }) => jump(platform, params.id, body))
  handle(routes, people.letIn, ({ params, body, by }) =>
    letRehearsingIn(platform, params.id, body.followup, by),
  )
  handle(routes, people.stage, ({ params }) => viewStage(platform, params.id))
  handle(routes, people.startOver, ({ params, body, by }) => startOver(platform, params.id, { ...body, by }))
  return routes
}
