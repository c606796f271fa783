import { DateTime } from 'luxon'
import { matchesDetails, type Activity, type Instant } from '../people/activity.ts'
import { stateOfDeadline } from '../../commerce/deadlineState.ts'
import { isLeaf, type Condition, type Leaf } from './condition.ts'
import { choiceName, type Names } from './names.ts'
import { marketingStateWords } from '../people/permission.ts'
import type { Person } from '../people/person.ts'
import { isBroken } from './references.ts'
import { noScore, scoreAt } from '../scores/score.ts'
import { bandOf, halfLivesOf, type Scorecard } from '../scores/scorecard.ts'
import { describeActivity, describeCondition, formatScore } from './describe.ts'
import { matchesTest, matchesText } from './valueTests.ts'
import { dateOf, timeRangeOf } from './within.ts'

/** The moment and circumstances in which a question is asked. */
export interface EvaluationContext {
  now: Instant
  /** Nothing before this counts unless the question says otherwise: the start of the follow-up that asks. */
  since?: Instant
  /** IANA zone in which times are told and days are counted. */
  zone: string
  names: Names
  segments: Readonly<Record<number, Condition>>
  scorecards: Readonly<Record<number, Scorecard>>
}

/** What does not change from one question to the next. */
export type ConditionContext = Omit<EvaluationContext, 'now' | 'since'>

/**
 * The answer and the values it rests on, in words. `null`: nobody can tell, something it speaks of is gone. The words
 * are worked out when they are read: of hundreds of questions the journal tells those that decided.
 */
export class Answer {
  constructor(
    readonly holds: boolean | null,
    private readonly tree: Condition,
    private readonly person: Person,
    private readonly context: EvaluationContext,
  ) {}

  get reason(): string {
    return wordsOf(this.tree, this.holds, this.person, this.context)
  }
}

/** A time as the journal tells it: "3 Mar 09:00". */
export function formatTime(at: Instant, zone: string): string {
  // Luxon has American names of months by heart; others it asks the system for, which takes longer.
  return DateTime.fromMillis(at, { zone, locale: 'en-US' }).toFormat('d LLL HH:mm')
}

type Did = Extract<Leaf, { kind: 'did' }>

/** What counts for a question of what somebody did. */
function matchesOf(leaf: Did, person: Person, context: EvaluationContext): readonly Activity[] {
  const { from, to } = timeRangeOf(leaf.within, context.now, context.zone, context.since)
  return person.activities.filter(
    (activity) =>
      activity.kind === leaf.activity &&
      activity.at >= from &&
      activity.at <= to &&
      matchesDetails(activity, leaf.details),
  )
}

function didWords(leaf: Did, person: Person, context: EvaluationContext): string {
  const { from, to } = timeRangeOf(leaf.within, context.now, context.zone, context.since)
  const matching = matchesOf(leaf, person, context)
  const holds = matching.length >= leaf.atLeast
  const what = describeActivity(leaf.activity, leaf.details, context.names)
  const first = matching[0]
  const times = leaf.atLeast > 1 ? `, ${matching.length} of ${leaf.atLeast} times` : ''
  const until = formatTime(to, context.zone)
  const looked = Number.isFinite(from)
    ? `from ${formatTime(from, context.zone)} until ${until}`
    : `until ${until}`
  const evidence =
    first && holds ? `${formatTime(first.at, context.zone)}${times}` : `looked ${looked}${times}`
  return `${what}: ${yesNo(holds)} (${evidence})`
}

const yesNo = (holds: boolean): string => (holds ? 'yes' : 'no')

/** Does a leaf other than `did` and `segment` hold? With how to tell the value that was found, if there is one to show. */
function look(
  leaf: Exclude<Leaf, { kind: 'did' | 'segment' }>,
  person: Person,
  context: EvaluationContext,
): { holds: boolean | null; found?: () => string } {
  switch (leaf.kind) {
    case 'hasTag':
      return { holds: person.tags.has(leaf.tag) }
    case 'agreedTo':
      return { holds: person.agreedTo.has(leaf.wording) }
    case 'topic':
      return { holds: person.topics.has(leaf.topic) }
    case 'state':
      return { holds: leaf.is.includes(person.marketing), found: () => marketingStateWords[person.marketing] }
    case 'field': {
      const value = typeof leaf.field === 'number' ? person.fields[leaf.field] : person.builtIn[leaf.field]
      const holds =
        typeof leaf.field === 'number'
          ? matchesTest(leaf.test, person.fields[leaf.field], dateOf(context.now, context.zone))
          : matchesText(leaf.test, person.builtIn[leaf.field])
      const found = (): string =>
        [value ?? []]
          .flat()
          .map((each) => `“${choiceName(context.names, leaf.field, String(each))}”`)
          .join(', ') || 'empty'
      return { holds, found }
    }
    case 'source': {
      const value = person.source[leaf.name]
      return {
        holds: matchesText(leaf.test, value),
        found: () => (value === undefined ? 'none' : `“${value}”`),
      }
    }
    case 'created': {
      const { from, to } = timeRangeOf(leaf.within, context.now, context.zone)
      return {
        holds: person.createdAt >= from && person.createdAt <= to,
        found: () => formatTime(person.createdAt, context.zone),
      }
    }
    case 'followup': {
      const been = person.enrolments.filter(({ followup }) => followup === leaf.followup)
      const wanted = {
        inside: been.some((each) => !each.ended),
        finished: been.some((each) => each.ended),
        ever: been.length > 0,
      }
      return { holds: wanted[leaf.is] }
    }
    case 'deadline': {
      const ends = person.deadlines[leaf.deadline]
      return {
        holds: stateOfDeadline(ends, context.now) === leaf.is,
        found: () => (ends === undefined ? 'not begun' : `until ${formatTime(ends, context.zone)}`),
      }
    }
    case 'score':
    case 'band': {
      const card = context.scorecards[leaf.scorecard]
      if (!card) return { holds: null }
      const score = scoreAt(person.scores.get(leaf.scorecard) ?? noScore, halfLivesOf(card), context.now)
      if (leaf.kind === 'score')
        return {
          holds: score >= (leaf.atLeast ?? -Infinity) && score < (leaf.below ?? Infinity),
          found: () => formatScore(score),
        }
      if (!card.bands.some(({ id }) => id === leaf.band)) return { holds: null }
      const band = bandOf(card, score)
      return { holds: band.id === leaf.band, found: () => `${band.name}, ${formatScore(score)}` }
    }
  }
}

/** The condition of a segment, with what is known inside of it: without itself, so that no circle is walked. */
function insideOf(
  segment: number,
  context: EvaluationContext,
): { tree: Condition; context: EvaluationContext } | null {
  const tree = context.segments[segment]
  if (!tree) return null
  const { [segment]: _itself, ...segments } = context.segments
  const { since: _start, ...rest } = context
  return { tree, context: { ...rest, segments } }
}

function leafHolds(leaf: Leaf, person: Person, context: EvaluationContext): boolean | null {
  if (isBroken(leaf, context.names)) return null
  if (leaf.kind === 'did') return matchesOf(leaf, person, context).length >= leaf.atLeast
  if (leaf.kind !== 'segment') return look(leaf, person, context).holds
  const inside = insideOf(leaf.segment, context)
  return inside && holdsFor(inside.tree, person, inside.context)
}

/** Nothing is kept on the way: a person is asked thousands of questions, and few of the answers are told. */
function holdsFor(tree: Condition, person: Person, context: EvaluationContext): boolean | null {
  if (isLeaf(tree)) return leafHolds(tree, person, context)
  if (tree.kind === 'not') {
    const inner = holdsFor(tree.of, person, context)
    return inner === null ? null : !inner
  }
  const deciding = tree.kind === 'any'
  let holds: boolean | null = !deciding
  for (const part of tree.of) {
    const found = holdsFor(part, person, context)
    if (found === deciding) return deciding
    if (found === null) holds = null
  }
  return holds
}

function leafWords(leaf: Leaf, holds: boolean | null, person: Person, context: EvaluationContext): string {
  const question = describeCondition(leaf, context.names, context.scorecards)
  const told = `${question}: ${holds === null ? 'cannot be told' : yesNo(holds)}`
  if (isBroken(leaf, context.names)) return told
  if (leaf.kind === 'did') return didWords(leaf, person, context)
  if (leaf.kind === 'segment') {
    const inside = insideOf(leaf.segment, context)
    return inside ? `${told} (${wordsOf(inside.tree, holds, person, inside.context)})` : told
  }
  const { found } = look(leaf, person, context)
  return holds === null || found === undefined ? told : `${told} (${found()})`
}

/** Why a condition came out as it did. */
function wordsOf(tree: Condition, holds: boolean | null, person: Person, context: EvaluationContext): string {
  if (isLeaf(tree)) return leafWords(tree, holds, person, context)
  if (tree.kind === 'not') return `not (${wordsOf(tree.of, holds === null ? null : !holds, person, context)})`
  const decisive: string[] = []
  // Only the parts that decided it: why it failed, or why it held.
  for (const part of tree.of)
    if (holdsFor(part, person, context) === holds) decisive.push(wordsOf(part, holds, person, context))
  return decisive.join(tree.kind === 'all' ? ' and ' : ' or ')
}

/**
 * Asks one person a question, in memory; `server/audience/conditionSql` asks a million in SQL and must agree.
 * `all` of nothing holds and `any` of nothing does not, as in logic. What cannot be told follows Kleene's
 * three-valued logic, which is SQL's: one part that decides by itself decides all the same.
 */
export const evaluate = (tree: Condition, person: Person, context: EvaluationContext): Answer =>
  new Answer(holdsFor(tree, person, context), tree, person, context)
