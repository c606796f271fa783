import type { Activity, Instant } from '../core/audience/people/activity.ts'
import type { Chance } from '../core/chance.ts'
import type { FieldValue } from '../core/audience/describing/field.ts'

const hour = 3_600_000
const day = 24 * hour

/** Things of the story beyond the template pack, by id. */
export interface Shelf {
  grainPage: number
  products: { guide: number; course: number }
  quiz: number
  session: number
  tags: { buyer: number; results: Record<string, number> }
  topics: { letter: number; sessions: number }
  fields: { binding: number; sewn: number; firstBook: number }
}

/** What habits look at in a life. */
interface Lived {
  createdAt: Instant
  marketing: string
  activities: readonly Activity[]
  sent: readonly { email: number; at: Instant }[]
}

/** What a person did and said besides going through the follow-up. */
export interface Habits {
  activities: Activity[]
  tags: { tag: number; at: Instant; by: string }[]
  topics: { topic: number; at: Instant }[]
  fields: Record<number, FieldValue>
}

/** The quiz's results, with the words of the field that asks for the same. */
export const bindings = [
  ['Long-stitch', 'long-stitch', 40],
  ['Coptic', 'coptic', 35],
  ['Case-bound', 'case-bound', 25],
] as const

/**
 * Gives a life its habits. Who clicks and visits more buys more: the score of the story has something to find.
 * @param keen from 0, hardly interested, to 1
 */
export function habitsOf(chance: Chance, shelf: Shelf, life: Lived, keen: number, now: Instant): Habits {
  const habits: Habits = { activities: [], tags: [], topics: [], fields: {} }
  const did = (activity: Activity): boolean => {
    if (activity.at > now) return false
    habits.activities.push(activity)
    return true
  }
  const tag = (id: number, at: Instant, by: string): void => {
    habits.tags.push({ tag: id, at, by })
    did({ kind: 'tagAdded', at, details: { tag: id, by } })
  }
  const clicks = life.activities.filter(({ kind }) => kind === 'emailClicked')
  const arrival = life.createdAt

  // What never arrived was opened by nobody.
  const failed = life.activities.filter(({ kind }) => kind === 'emailFailed')
  const arrived = (message: number): boolean =>
    !failed.some(({ details }) => 'message' in details && details.message === message)
  // Who clicks has opened; many open without clicking.
  life.sent.forEach(({ email, at }, i) => {
    const click = clicks.find(({ details }) => 'message' in details && details.message === i + 1)
    const opened = click ? click.at - 30_000 : at + chance.delay(9 * hour)
    if ((click || chance.flip(0.25 + keen * 0.4)) && arrived(i + 1))
      did({ kind: 'emailOpened', at: opened, details: { email, message: i + 1 } })
  })

  const visits = chance.below(2) + (chance.flip(keen) ? 1 + chance.below(3) : 0)
  for (let i = 0; i < visits; i += 1)
    did({ kind: 'pageVisited', at: arrival + chance.delay(20 * day), details: { page: shelf.grainPage } })

  if (chance.flip(0.12 + keen * 0.3)) {
    const at = arrival + chance.delay(12 * day)
    const [result, option] = chance.weighted(
      bindings.map(([name, id, weight]) => [[name, id] as const, weight] as const),
    )
    if (did({ kind: 'quizFinished', at, details: { quiz: shelf.quiz, result } })) {
      habits.fields[shelf.fields.binding] = option
      tag(shelf.tags.results[result] ?? 0, at + 1000, 'quiz Which binding suits you?')
    }
  }
  if (chance.flip(0.3)) habits.fields[shelf.fields.sewn] = Math.floor(chance.delay(6))
  if (chance.flip(0.2))
    habits.fields[shelf.fields.firstBook] =
      `20${10 + chance.below(16)}-0${1 + chance.below(9)}-1${chance.below(10)}`
  if (chance.flip(0.15 + keen * 0.2)) {
    const at = arrival + chance.delay(15 * day)
    if (did({ kind: 'sessionRegistered', at, details: { session: shelf.session } }) && chance.flip(0.55))
      did({ kind: 'sessionAttended', at: at + 3 * day, details: { session: shelf.session } })
  }

  const buy = (product: number, amount: number, at: Instant): void => {
    if (
      did({ kind: 'productBought', at, details: { product, amount, currency: 'EUR' } }) &&
      !habits.tags.some((t) => t.tag === shelf.tags.buyer)
    )
      tag(shelf.tags.buyer, at + 1000, 'order')
  }
  if (chance.flip(0.03 + keen * 0.06)) buy(shelf.products.guide, 700, arrival + chance.delay(3 * hour))
  // Months later too: the longer somebody keeps clicking and visiting, the likelier they are to buy the course.
  const warmth = 0.004 + 0.018 * clicks.length + 0.03 * Math.min(visits, 3)
  for (let month = 0; arrival + month * 30 * day < now; month += 1)
    if (chance.flip(warmth / (1 + month * 0.4))) {
      buy(shelf.products.course, 7900, arrival + month * 30 * day + chance.delay(8 * day))
      break
    }

  for (const [topic, share] of [
    [shelf.topics.letter, 0.5],
    [shelf.topics.sessions, 0.2],
  ] as const)
    if (life.marketing === 'subscribed' && chance.flip(share)) {
      const at = arrival + chance.delay(5 * day)
      if (did({ kind: 'topicJoined', at, details: { topic, by: 'preferences page' } }))
        habits.topics.push({ topic, at })
    }
  return habits
}
