import type { FindingView } from '../../contract/drafts.ts'
import { describeQuizChanges } from '../../core/quizzes/describeQuiz.ts'
import { proveQuiz, quick } from '../../core/quizzes/proof/quizProof.ts'
import { quizContent, type QuizContent } from '../../core/quizzes/quiz.ts'
import type { Surroundings } from '../../core/pages/findings.ts'
import type { QuizThings } from '../../core/quizzes/quizAction.ts'
import { findingsOfQuiz } from '../../core/quizzes/quizFindings.ts'
import { idsOf, loadKnownThings } from '../audience/describing/knownThings.ts'
import { draftsOf } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { makeDocumentSafe } from '../pages/safeContent.ts'
import { surroundingsOf } from '../pages/surroundings.ts'

/** The things besides pages and forms that quizzes speak of. */
const loadQuizThings = async (q: Queries): Promise<QuizThings> => ({
  ...(await loadKnownThings(q)),
  scorecards: await idsOf(q, 'scorecard'),
  liveEmails: await idsOf(q, 'email where published_version is not null and archived_at is null'),
})

// A request may not wait for a proof of many sums: the editor has it worked out beside it.
const findings = async (q: Queries, content: QuizContent, around: Surroundings): Promise<FindingView[]> =>
  findingsOfQuiz(content, { ...around, ...(await loadQuizThings(q)) }, proveQuiz(content, null, quick))

/** Takes out of the pages of results what must not be stored. */
const prepare = (content: QuizContent): QuizContent => ({
  ...content,
  results: content.results.map((result) =>
    result.shows.by === 'page'
      ? { ...result, shows: { by: 'page', document: makeDocumentSafe(result.shows.document) } }
      : result,
  ),
})

/** How quizzes are drafted and published. */
export const quizDrafts = draftsOf<QuizContent>({
  table: 'quiz',
  word: 'quiz',
  shape: quizContent,
  prepare,
  findings: async (q, _id, content, at) => findings(q, content, await surroundingsOf(q, at)),
  describeChanges: describeQuizChanges,
})

/** What the check of a quiz finds, as it is written now. @param around with what will be live */
export async function checkQuiz(q: Queries, id: number, around: Surroundings): Promise<FindingView[]> {
  const { content } = await quizDrafts.newest(q, id)
  return findings(q, content, around)
}
