import { connect } from '../server/database/connect.ts'
import { openFormCounts } from '../server/capture/formCounts.ts'
import { openLive } from '../server/http/live.ts'
import { longestAnswer, openQuestions } from '../server/http/questions.ts'
import { openPasses } from '../server/junctions/passes.ts'
import { openVisits } from '../server/pages/visits.ts'
import { openQuizViews } from '../server/quizzes/quizViews.ts'
import type { Platform } from '../server/platform.ts'
import { stillSignedIn } from '../server/workspace/signIn.ts'
import type { Part } from './platform.ts'
import { createWeb, isBuilt, listen } from './web.ts'

/** A clock that is set meanwhile is noticed so soon (milliseconds). */
const comparedEvery = 10_000

/**
 * Serves pages, API and application. Whoever asks something waits for it, so statements have a time limit here, on
 * connections that no worker shares.
 */
export async function serve(base: Platform): Promise<Part> {
  if (!isBuilt()) throw new Error('The application is not built: run npm run build.')
  const { settings, log } = base
  const database = connect(settings.databaseUrl, { statementTimeout: longestAnswer })
  const platform = { ...base, database, questions: openQuestions(settings.databaseUrl) }
  const live = openLive(settings.databaseUrl, log, (hashes) => stillSignedIn(platform, hashes))
  const visits = openVisits(database, base.clock, log)
  const counts = openFormCounts(database, base.clock, log)
  const passes = openPasses(database, base.clock, log)
  const quizViews = openQuizViews(database, base.clock, log)
  const close = async (): Promise<void> => {
    clearInterval(comparing)
    await live.close()
    await platform.questions.close()
    await database.close()
  }
  // While the database is away there is nothing to compare with.
  const compare = (): unknown => base.clock.compare?.().catch(() => undefined)
  compare()
  const comparing = setInterval(compare, comparedEvery)
  const server = await listen(
    createWeb(platform, { live, visits, counts, passes, quizViews }),
    settings,
  ).catch(async (error: unknown) => {
    await close()
    throw error
  })
  return {
    async stop() {
      clearInterval(comparing)
      await live.close()
      server.closeIdleConnections()
      const closed = new Promise<void>((done) => server.close(() => done()))
      // Requests under way get a moment; kept connections do not hold the end up.
      setTimeout(() => server.closeAllConnections(), 2_000).unref()
      await closed
      await visits.close()
      await counts.close()
      await passes.close()
      await quizViews.close()
      await close()
    },
  }
}
