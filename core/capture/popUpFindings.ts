import { findingsOfDocument, type Finding, type Surroundings } from '../pages/findings.ts'
import { formsOfPopUp, opensByItself, type PopUpContent } from './popUp.ts'

const advice = (words: string): Finding => ({ level: 'advice', words, part: null })

/** A pop-up that comes sooner than this is closed unread (common practice). */
const tooSoon = 5

/** Everything about a pop-up that would go wrong or could be better, errors first. */
export function findingsOfPopUp(content: PopUpContent, around: Surroundings): Finding[] {
  const { opens, againAfterDays } = content
  return [
    ...findingsOfDocument(content.document, around),
    ...(formsOfPopUp(content).length === 0 ? [advice('A pop-up without a form captures nobody')] : []),
    ...(opens.afterSeconds !== null && opens.afterSeconds < tooSoon
      ? [advice(`Let people read first: ${tooSoon} seconds at least`)]
      : []),
    ...(opensByItself(content) && againAfterDays < 7
      ? [advice('Who has closed it once should not see it again within a week')]
      : []),
  ]
}
