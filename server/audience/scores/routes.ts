import { Router } from 'express'
import * as api from '../../../contract/api.ts'
import { handle } from '../../http/handle.ts'
import type { Platform } from '../../platform.ts'
import { checkCard, previewMoves, readHistory } from './scoreChecks.ts'
import { deleteScorecard, listScorecards, saveScorecard } from './scorecards.ts'

/** Scorecards, and whether they mean anything. */
export function scoreRoutes(platform: Platform): Router {
  const routes = Router()
  const { scorecards } = api

  handle(routes, scorecards.list, () => listScorecards(platform.database))
  handle(routes, scorecards.create, ({ body }) => saveScorecard(platform, null, body), { status: 201 })
  handle(routes, scorecards.check, ({ body: { card, ...question } }) => checkCard(platform, card, question))
  handle(routes, scorecards.history, ({ body: { card, ...question } }) =>
    readHistory(platform, card, question),
  )
  handle(routes, scorecards.edit, ({ params, body }) => saveScorecard(platform, params.id, body))
  handle(routes, scorecards.moves, ({ params, body }) => previewMoves(platform, params.id, body.card))
  handle(routes, scorecards.delete, ({ params }) => deleteScorecard(platform, params.id))
  return routes
}
