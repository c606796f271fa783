import type { Asking } from '../../core/audience/evaluate.ts'
import type { BuiltInField, Condition, FieldTest, Leaf } from '../../core/audience/condition.ts'
import { isBroken } from '../../core/audience/references.ts'
import { halfLivesOf, rangeOf, type Scorecard } from '../../core/audience/scorecard.ts'
import { dateOf, stretchOf, type Stretch } from '../../core/audience/within.ts'
import type { Binds } from '../database/binds.ts'
import { fieldTestSql, textTestSql } from './testSql.ts'

/** Nobody can tell: SQL's null, which its logic carries on as Kleene's does. */
const unknown = 'null::boolean'

const columns: Record<BuiltInField, string> = {
  address: 'c.address',
  firstName: 'c.first_name',
  lastName: 'c.last_name',
  phone: 'c.phone',
  country: 'c.country::text',
  language: 'c.language',
  zone: 'c.zone',
}

function stretchSql(column: string, { from, to }: Stretch, binds: Binds): string {
  const begins = Number.isFinite(from) ? `${column} >= ${binds.add(new Date(from))} and ` : ''
  return `${begins}${column} <= ${binds.add(new Date(to))}`
}

/**
 * `exists` where one is enough: the planner makes a semi-join or anti-join of it. More than one is counted once for
 * all people; counting for each person by itself takes minutes at a million.
 */
function didSql(leaf: Extract<Leaf, { kind: 'did' }>, asking: Asking, binds: Binds): string {
  const tests = [`kind = ${binds.add(leaf.activity)}`]
  if (Object.keys(leaf.details).length > 0)
    tests.push(`details @> ${binds.add(JSON.stringify(leaf.details))}::jsonb`)
  tests.push(stretchSql('at', stretchOf(leaf.within, asking.now, asking.zone, asking.since), binds))
  const matching = tests.join(' and ')
  return leaf.atLeast === 1
    ? `exists (select from activity where contact_id = c.id and ${matching})`
    : `c.id in (select contact_id from activity where ${matching}
         group by contact_id having count(*) >= ${binds.add(leaf.atLeast)})`
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
  asking: Asking,
  binds: Binds,
): string {
  const card = asking.scorecards[scorecard]
  if (!card) return unknown
  if (range.from === null && range.below === null) return 'true'
  const score = scoreSql(card, binds.add(new Date(asking.now)))
  const of = `from contact_score s where s.contact_id = c.id and s.scorecard_id = ${binds.add(scorecard)}`
  const above = range.from === null ? null : `${score} >= ${binds.add(range.from)}::float8`
  const below = range.below === null ? null : `${score} < ${binds.add(range.below)}::float8`
  const inside = [above, below].filter((each) => each !== null).join(' and ')
  const holdsForZero = (range.from ?? 0) <= 0 && (range.below ?? 1) > 0
  return holdsForZero
    ? `not exists (select ${of} and not (${inside}))`
    : `exists (select ${of} and ${inside})`
}

function fieldSql(field: BuiltInField | number, test: FieldTest, asking: Asking, binds: Binds): string {
  if (typeof field === 'string') return textTestSql(test, `nullif(${columns[field]}, '')`, binds)
  return fieldTestSql(
    test,
    `(c.fields->${binds.add(String(field))}::text)`,
    dateOf(asking.now, asking.zone),
    binds,
  )
}

function leafSql(leaf: Leaf, asking: Asking, binds: Binds): string {
  if (isBroken(leaf, asking.names)) return unknown
  switch (leaf.kind) {
    case 'did':
      return didSql(leaf, asking, binds)
    case 'hasTag':
      return `exists (select from contact_tag where contact_id = c.id and tag_id = ${binds.add(leaf.tag)})`
    case 'topic':
      return `exists (select from contact_topic where contact_id = c.id and topic_id = ${binds.add(leaf.topic)} and agreed)`
    case 'state':
      return `c.marketing_state = any(${binds.add(leaf.is)})`
    case 'field':
      return fieldSql(leaf.field, leaf.test, asking, binds)
    case 'source':
      return textTestSql(leaf.test, `(c.source->>${binds.add(leaf.name)})`, binds)
    case 'created':
      return `(${stretchSql('c.created_at', stretchOf(leaf.within, asking.now, asking.zone), binds)})`
    case 'followup': {
      const state = { inside: ' and ended_at is null', finished: ' and ended_at is not null', ever: '' }[
        leaf.is
      ]
      return `exists (select from enrolment where contact_id = c.id and followup_id = ${binds.add(leaf.followup)}${state})`
    }
    case 'score':
      return scoreRangeSql(
        leaf.scorecard,
        { from: leaf.atLeast ?? null, below: leaf.below ?? null },
        asking,
        binds,
      )
    case 'band': {
      const card = asking.scorecards[leaf.scorecard]
      const range = card && rangeOf(card, leaf.band)
      return range ? scoreRangeSql(leaf.scorecard, range, asking, binds) : unknown
    }
    case 'segment': {
      const tree = asking.segments[leaf.segment]
      if (!tree) return unknown
      const { [leaf.segment]: _itself, ...segments } = asking.segments
      const { since: _start, ...rest } = asking
      return `(${conditionSql(tree, { ...rest, segments }, binds)})`
    }
  }
}

/**
 * The condition as SQL over a row `c` of contact: true, false, or null when nobody can tell. Asks of a million what
 * `core/audience/evaluate` asks of one; `conditionSql.db.test.ts` holds the two equal.
 */
export function conditionSql(tree: Condition, asking: Asking, binds: Binds): string {
  switch (tree.kind) {
    case 'not':
      return `not (${conditionSql(tree.of, asking, binds)})`
    case 'all':
    case 'any': {
      if (tree.of.length === 0) return tree.kind === 'all' ? 'true' : 'false'
      const parts = tree.of.map((part) => conditionSql(part, asking, binds))
      return `(${parts.join(tree.kind === 'all' ? ' and ' : ' or ')})`
    }
    default:
      return leafSql(tree, asking, binds)
  }
}
