import type { Outcome } from '../../core/followups/enrolment.ts'

/** How a decision came out, in words of a journal. */
export const outcomeWords: Readonly<Record<Outcome, string>> = {
  sent: 'sent',
  skipped: 'passed over',
  waits: 'waits',
  took: 'took the lane',
  tagged: 'tagged',
  did: 'done',
  jumped: 'jumped ahead',
  moved: 'moved',
  left: 'left',
  setAside: 'set aside',
}
