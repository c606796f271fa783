import type { Goal } from './funnel.ts'
import { funnelFile, type FunnelFile } from './funnelFile.ts'
import { confirmedFile, fileThenOffer, freeFile } from './starters/freeFile.ts'
import { oneMoreLook } from './starters/oneMoreLook.ts'
import { threeLessons } from './starters/lessons.ts'
import { newsletter } from './starters/newsletter.ts'
import { quizFunnel } from './starters/quiz.ts'
import { sellCourse } from './starters/sellCourse.ts'
import { sellDownload } from './starters/sellDownload.ts'
import type { FunnelStarter } from './starters/starter.ts'
import type { Wishes } from './starters/wishes.ts'
import { twoPages } from './starters/twoPages.ts'
import { waitingList } from './starters/waitingList.ts'
import { funnelWriter } from './starters/writer.ts'

const nothing: FunnelStarter = {
  id: 'nothing',
  goal: 'nothing',
  name: 'Start with nothing',
  words: 'An empty line. Put pages on it that you have, or that you make.',
  write: () => undefined,
}

/** Every starter, in the order in which people usually need them. */
export const funnelStarters: readonly FunnelStarter[] = [
  freeFile,
  confirmedFile,
  sellDownload,
  fileThenOffer,
  oneMoreLook,
  newsletter,
  quizFunnel,
  waitingList,
  threeLessons,
  sellCourse,
  twoPages,
  nothing,
]

/** Starters of a goal, the one with nothing last. */
export const startersFor = (goal: Goal): FunnelStarter[] => [
  ...funnelStarters.filter((each) => each.goal === goal && each !== nothing),
  nothing,
]

/** The funnel that a starter makes. @param newId makes the ids of all parts */
export function funnelFrom(
  starter: FunnelStarter,
  goal: Goal,
  wishes: Wishes,
  newId: () => string,
): FunnelFile {
  const writer = funnelWriter(goal, wishes, newId)
  starter.write(writer, wishes)
  return funnelFile.parse(writer.file)
}
