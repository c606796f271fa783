import { Router } from 'express'
import { cardRequest, checkRequest, scorecardEdit } from '../../contract/scores.ts'
import type { Platform } from '../platform.ts'
import { idOf } from '../requests.ts'
import { checkCard, previewMoves, readHistory } from './scoreChecks.ts'
import { deleteScorecard, listScorecards, saveScorecard } from './scorecards.ts'

/** Scorecards, and whether they mean anything. */
export function scoreRoutes(platform: Platform): Router {
  const routes = Router()
  routes.get('/scorecards', async (_request, response) => {
    response.json(await listScorecards(platform.database))
  })
  routes.post('/scorecards', async (request, response) => {
    response.status(201).json(await saveScorecard(platform, null, scorecardEdit.parse(request.body)))
  })
  routes.post('/scorecards/check', async (request, response) => {
    const { card, ...wish } = checkRequest.parse(request.body)
    response.json(await checkCard(platform, card, wish))
  })
  routes.post('/scorecards/history', async (request, response) => {
    const { card, ...wish } = checkRequest.parse(request.body)
    response.json(await readHistory(platform, card, wish))
  })
  routes.post('/scorecards/:id', async (request, response) => {
    response.json(await saveScorecard(platform, idOf(request), scorecardEdit.parse(request.body)))
  })
  routes.post('/scorecards/:id/moves', async (request, response) => {
    response.json(await previewMoves(platform, idOf(request), cardRequest.parse(request.body).card))
  })
  routes.post('/scorecards/:id/delete', async (request, response) => {
    await deleteScorecard(platform, idOf(request))
    response.status(204).end()
  })
  return routes
}
