import type { FormCounts } from '../../server/capture/formCounts.ts'
import type { FormDesk } from '../../server/capture/formDesk.ts'
import type { FormTokens } from '../../server/capture/formTokens.ts'
import type { Passes } from '../../server/junctions/passes.ts'
import type { PublishedPages } from '../../server/pages/publishedPages.ts'
import type { Visits } from '../../server/pages/visits.ts'
import type { QuizViews } from '../../server/quizzes/quizViews.ts'
import type { Platform } from '../../server/platform.ts'

/** What the public site stands on in one web process. */
export interface PublicSite {
  platform: Platform
  published: PublishedPages
  visits: Visits
  tokens: FormTokens
  desk: FormDesk
  counts: FormCounts
  passes: Passes
  quizViews: QuizViews
}
