import { Router } from 'express'
import * as api from '../../contract/api.ts'
import type { Doing } from '../blocks/drafts.ts'
import { serveVersions } from '../blocks/versionRoutes.ts'
import { handle, handleStream } from '../http/handle.ts'
import { sendFile } from '../http/sendFile.ts'
import type { WebPlatform } from '../platform.ts'
import { quizDrafts } from './quizDrafts.ts'
import { reportOfQuiz } from './quizReport.ts'
import { copyQuiz, createQuiz, deleteQuiz, listQuizzes, quizPaths, viewQuiz } from './quizzes.ts'
import { takesCsv } from './takesCsv.ts'

/** Quizzes of the Library. */
export function quizRoutes(platform: WebPlatform): Router {
  const { database: q, clock, questions } = platform
  const { quizzes } = api
  const routes = Router()
  const doing = (by: string): Doing => ({ by, at: new Date(clock.now()) })

  handle(routes, quizzes.list, () => listQuizzes(q, clock.now()))
  handle(routes, quizzes.view, ({ params, by }) => viewQuiz(q, params.id, doing(by)))
  handle(
    routes,
    quizzes.create,
    async ({ body, by }) => ({ id: await q.inTransaction((tx) => createQuiz(tx, body, doing(by))) }),
    { status: 201 },
  )
  handle(routes, quizzes.settings, ({ params, body }) =>
    q.inTransaction((tx) => quizPaths.set(tx, params.id, body)),
  )
  handle(routes, quizzes.save, ({ params, body, by }) =>
    q.inTransaction((tx) => quizDrafts.save(tx, params.id, body, doing(by))),
  )
  serveVersions(platform, routes, quizzes, { drafts: quizDrafts, copy: copyQuiz, remove: deleteQuiz })
  handle(routes, quizzes.report, ({ params, query, response }) =>
    questions.whileConnected(response, (tx) => reportOfQuiz(tx, params.id, query.days, clock.now())),
  )
  handleStream(routes, quizzes.takesCsv, ({ params, response }) =>
    q.inTransaction((tx) => sendFile(response, 'takes.csv', 'text/csv', takesCsv(tx, params.id))),
  )
  return routes
}
