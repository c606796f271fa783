import type { EvaluationContext } from '../../../core/audience/segments/evaluate.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import type { BuiltInField, FieldTest } from '../../../core/audience/segments/condition.ts'
import type { Question } from '../../../core/audience/segments/expandCondition.ts'
import { halfLivesOf, rangeOf, type Scorecard } from '../../../core/audience/scores/scorecard.ts'
import { dateOf, timeRangeOf, type TimeRange } from '../../../core/audience/segments/within.ts'
import type { Binds } from '../../database/binds.ts'
import { fieldTestSql, textTestSql } from './valueTestSql.ts'

/** Nobody can tell: SQL's null, which its logic carries on as Kleene's does. */
export const unknown = 'null::boolean'

const columns: Record<BuiltInField, string> = {
  address: 'c.address',
  firstName: 'c.first_name',
  lastName: 'c.last_name',
  phone: 'c.phone',
  country: 'c.country::text',
  language: 'c.language',
  zone: 'c.zone',
}

function timeRangeSql(column: string, { from, to }: TimeRange, binds: Binds): string {
  const begins = Number.isFinite(from) ? `${column} >= ${binds.add(new Date(from))} and ` : ''
  return `${begins}${column} <= ${binds.add(new Date(to))}`
}

export type Did = Extract<Question, { kind: 'did' }>

/** Which rows of `activity` a question is about, their kind apart. */
export function matchingSql(
  did: Did,
  since: Instant | undefined,
  context: EvaluationContext,
  binds: Binds,
): string {
  const tests =
    Object.keys(did.details).length > 0 ? [`details @> ${binds.add(JSON.stringify(did.details))}::jsonb`] : []
  tests.push(timeRangeSql('at', timeRangeOf(did.within, context.now, context.zone, since), binds))
  return tests.join(' and ')
}

/**
 * `exists` where one is enough: the planner makes a semi-join or anti-join of it. More than one is counted once for
 * all people; counting for each person by itself takes minutes at a million.
 */
function didSql(did: Did, since: Instant | undefined, context: EvaluationContext, binds: Binds): string {
  const matching = `kind = ${binds.add(did.activity)} and ${matchingSql(did, since, context, binds)}`
  return did.atLeast === 1
    ? `exists (select from activity where contact_id = c.id and ${matching})`
    : `c.id in (select contact_id from activity where ${matching}
         group by contact_id having count(*) >= ${binds.add(did.atLeast)})`
}

/** The score of a row `s` of contact_score at the moment of asking. */
export function scoreSql(card: Scorecard, now: string): string {
  const age = `extract(epoch from (${now}::timestamptz - s.as_of))::float8`
  const fading = halfLivesOf(card).map(
    (days, i) => `s.fading[${i + 1}] * power(0.5::float8, ${age} / ${days * 86_400})`,
  )
  return ['s.steady', ...fading].join(' + ')
}

/** Who has no row yet has a score of 0: whether 0 is in the range decides which way round to ask. */
function scoreRangeSql(
  scorecard: number,
  range: { from: number | null; below: number | null },
  context: EvaluationContext,
  binds: Binds,
): string {
  const card = context.scorecards[scorecard]
  if (!card) return unknown
  if (range.from === null && range.below === null) return 'true'
  const score = scoreSql(card, binds.add(new Date(context.now)))
  const of = `from contact_score s where s.contact_id = c.id and s.scorecard_id = ${binds.add(scorecard)}`
  const above = range.from === null ? null : `${score} >= ${binds.add(range.from)}::float8`
  const below = range.below === null ? null : `${score} < ${binds.add(range.below)}::float8`
  const inside = [above, below].filter((each) => each !== null).join(' and ')
  const holdsForZero = (range.from ?? 0) <= 0 && (range.below ?? 1) > 0
  return holdsForZero
    ? `not exists (select ${of} and not (${inside}))`
    : `exists (select ${of} and ${inside})`
}

function fieldSql(
  field: BuiltInField | number,
  test: FieldTest,
  context: EvaluationContext,
  binds: Binds,
): string {
  if (typeof field === 'string') return textTestSql(test, `nullif(${columns[field]}, '')`, binds)
  return fieldTestSql(
    test,
    `(c.fields->${binds.add(String(field))}::text)`,
    dateOf(context.now, context.zone),
    binds,
  )
}

/** One question as SQL over a row `c` of contact; `unknown` when nobody can tell. */
export function questionSql(
  question: Question,
  since: Instant | undefined,
  context: EvaluationContext,
  binds: Binds,
): string {
  switch (question.kind) {
    case 'did':
      return didSql(question, since, context, binds)
    case 'hasTag':
      return `exists (select from contact_tag where contact_id = c.id and tag_id = ${binds.add(question.tag)})`
    case 'topic':
      return `exists (select from contact_topic where contact_id = c.id and topic_id = ${binds.add(question.topic)} and agreed)`
    case 'agreedTo':
      return `exists (select from consent where contact_id = c.id and wording_id = ${binds.add(question.wording)})`
    case 'state':
      return `c.marketing_state = any(${binds.add(question.is)})`
    case 'field':
      return fieldSql(question.field, question.test, context, binds)
    case 'source':
      return textTestSql(question.test, `(c.source->>${binds.add(question.name)})`, binds)
    case 'created':
      return `(${timeRangeSql('c.created_at', timeRangeOf(question.within, context.now, context.zone), binds)})`
    case 'followup': {
      const state = { inside: ' and ended_at is null', finished: ' and ended_at is not null', ever: '' }[
        question.is
      ]
      return `exists (select from enrolment where contact_id = c.id and followup_id = ${binds.add(question.followup)}${state})`
    }
    case 'deadline': {
      const theirs = `select from personal_deadline where contact_id = c.id and offer = ${binds.add(question.deadline)}`
      if (question.is === 'none') return `not exists (${theirs})`
      const now = binds.add(new Date(context.now))
      return `exists (${theirs} and ends_at ${question.is === 'running' ? '>' : '<='} ${now}::timestamptz)`
    }
    case 'score':
      return scoreRangeSql(
        question.scorecard,
        { from: question.atLeast ?? null, below: question.below ?? null },
        context,
        binds,
      )
    case 'band': {
      const card = context.scorecards[question.scorecard]
      const range = card && rangeOf(card, question.band)
      return range ? scoreRangeSql(question.scorecard, range, context, binds) : unknown
    }
  }
}
