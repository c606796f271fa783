import type { ActivityKind } from '../../../core/audience/people/activity.ts'
import type { Condition } from '../../../core/audience/segments/condition.ts'
import type { EvaluationContext } from '../../../core/audience/segments/evaluate.ts'
import {
  expandCondition,
  questionsOf,
  type Expanded,
  type Question,
} from '../../../core/audience/segments/expandCondition.ts'
import type { Binds } from '../../database/binds.ts'
import { matchingSql, questionSql, unknown } from './questionSql.ts'

/** Questions that look at the person's own row: asking them twice costs nothing. */
const looksAtRow: Record<Question['kind'], boolean> = {
  did: false,
  hasTag: false,
  topic: false,
  agreedTo: false,
  state: true,
  field: true,
  source: true,
  created: true,
  followup: false,
  deadline: false,
  score: false,
  band: false,
}

/** So many questions about one kind of activity are each looked up by themselves; more share one pass over it. */
const askedApart = 3

/** The one pass over a kind of activity: its name, and the column that answers each of its questions. */
interface Pass {
  name: string
  answers: ReadonlyMap<string, string>
}

/** What is asked more than once, or of so much at once that it is looked up together. */
interface Sharing {
  passes: ReadonlyMap<ActivityKind, Pass>
  /** Questions that stand in several places, by key, with their SQL once it is known. */
  repeated: Map<string, string | null>
}

type Asked = Extract<Expanded, { kind: 'ask' }>

function passOver(
  kind: ActivityKind,
  asked: readonly Asked[],
  context: EvaluationContext,
  binds: Binds,
): Pass {
  const answers = new Map<string, string>()
  const columns = [...new Map(asked.map((each) => [each.key, each])).values()].flatMap(
    ({ question, since, key }, i) => {
      if (question.kind !== 'did') return []
      answers.set(key, `did_${i}`)
      return `count(*) filter (where ${matchingSql(question, since, context, binds)}) >= ${binds.add(question.atLeast)} did_${i}`
    },
  )
  const query = `select contact_id, ${columns.join(', ')} from activity
    where kind = ${binds.add(kind)} and at <= ${binds.add(new Date(context.now))} group by contact_id`
  return { name: binds.share(query), answers }
}

function sharingOf(expanded: Expanded, context: EvaluationContext, binds: Binds): Sharing {
  const times = new Map<string, number>()
  const byKind = new Map<ActivityKind, Asked[]>()
  for (const asked of questionsOf(expanded)) {
    times.set(asked.key, (times.get(asked.key) ?? 0) + 1)
    if (asked.question.kind === 'did')
      byKind.set(asked.question.activity, [...(byKind.get(asked.question.activity) ?? []), asked])
  }
  const isRepeated = ({ key }: Asked): boolean => (times.get(key) ?? 0) > 1
  const passes = [...byKind].filter(([, asked]) => asked.length > askedApart || asked.some(isRepeated))
  return {
    passes: new Map(passes.map(([kind, asked]) => [kind, passOver(kind, asked, context, binds)])),
    repeated: new Map([...times].filter(([, count]) => count > 1).map(([key]) => [key, null])),
  }
}

/** The pass that answers all of this by itself, if there is one. */
function passOf(expanded: Expanded, passes: Sharing['passes']): Pass | undefined {
  switch (expanded.kind) {
    case 'ask':
      return expanded.question.kind === 'did' ? passes.get(expanded.question.activity) : undefined
    case 'not':
      return passOf(expanded.of, passes)
    case 'all':
    case 'any': {
      const [first, ...others] = expanded.of.map((part) => passOf(part, passes))
      return others.every((each) => each === first) ? first : undefined
    }
    case 'unknown':
      return undefined
  }
}

/** What a pass says, over its columns; and what it says of somebody who did nothing of the kind. */
function answerOf(expanded: Expanded, pass: Pass): { sql: string; ofNobody: boolean } {
  switch (expanded.kind) {
    case 'ask':
      return { sql: pass.answers.get(expanded.key) ?? 'false', ofNobody: false }
    case 'not': {
      const { sql, ofNobody } = answerOf(expanded.of, pass)
      return { sql: `not ${sql}`, ofNobody: !ofNobody }
    }
    case 'all':
    case 'any': {
      const parts = expanded.of.map((part) => answerOf(part, pass))
      const all = expanded.kind === 'all'
      return {
        sql: `(${parts.map(({ sql }) => sql).join(all ? ' and ' : ' or ')})`,
        ofNobody: all ? parts.every((each) => each.ofNobody) : parts.some((each) => each.ofNobody),
      }
    }
    case 'unknown':
      return { sql: unknown, ofNobody: false }
  }
}

function passSql(expanded: Expanded, pass: Pass): string {
  const { sql, ofNobody } = answerOf(expanded, pass)
  const row = `select from ${pass.name} where contact_id = c.id and`
  return ofNobody ? `not exists (${row} not ${sql})` : `exists (${row} ${sql})`
}

function askedSql(
  { question, since, key }: Asked,
  sharing: Sharing,
  context: EvaluationContext,
  binds: Binds,
): string {
  const known = sharing.repeated.get(key)
  if (known) return known
  const sql = questionSql(question, since, context, binds)
  if (known === undefined || looksAtRow[question.kind] || sql === unknown) return sql
  const shared = `c.id in (select id from ${binds.share(`select c.id from contact c where ${sql}`)})`
  sharing.repeated.set(key, shared)
  return shared
}

function expandedSql(expanded: Expanded, sharing: Sharing, context: EvaluationContext, binds: Binds): string {
  const pass = passOf(expanded, sharing.passes)
  if (pass) return passSql(expanded, pass)
  switch (expanded.kind) {
    case 'unknown':
      return unknown
    case 'ask':
      return askedSql(expanded, sharing, context, binds)
    case 'not':
      return `not (${expandedSql(expanded.of, sharing, context, binds)})`
    case 'all':
    case 'any': {
      if (expanded.of.length === 0) return expanded.kind === 'all' ? 'true' : 'false'
      // What one pass answers stands together, so that it is looked at once.
      const together = new Map<Pass, Expanded[]>()
      const apart: Expanded[] = []
      for (const part of expanded.of) {
        const own = passOf(part, sharing.passes)
        if (own) together.set(own, [...(together.get(own) ?? []), part])
        else apart.push(part)
      }
      const parts = [
        ...[...together].map(([own, of]) => passSql({ ...expanded, of }, own)),
        ...apart.map((part) => expandedSql(part, sharing, context, binds)),
      ]
      return `(${parts.join(expanded.kind === 'all' ? ' and ' : ' or ')})`
    }
  }
}

/**
 * The condition as SQL over a row `c` of contact: true, false, or null when nobody can tell. Asks of a million what
 * `core/audience/evaluate` asks of one; `conditionSql.db.test.ts` holds the two equal. What is asked several times is
 * looked up once: the statement begins with `binds.with`.
 */
export function conditionSql(tree: Condition, context: EvaluationContext, binds: Binds): string {
  const expanded = expandCondition(tree, context)
  return expandedSql(expanded, sharingOf(expanded, context, binds), context, binds)
}
