import type { BroadcastRequest, Variant } from '../../../contract/broadcasts.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import { fieldKey, fieldsIn, writtenField } from '../../../core/blocks/mergeText.ts'
import { readerValues } from '../../../core/blocks/mergeValues.ts'
import { describeCondition } from '../../../core/audience/segments/describe.ts'
import { loadContext } from '../../audience/segments/evaluationContext.ts'
import type { Queries } from '../../database/connect.ts'
import { announce } from '../../http/live.ts'
import { notFound, Problem } from '../../http/problems.ts'
import type { Platform } from '../../platform.ts'
import { startWork } from '../../work/longWork.ts'
import { loadMergeFields } from '../../blocks/mergeFields.ts'
import { getBusiness } from '../../workspace/business.ts'
import { plannedMoments } from './moments.ts'
import { recipientsOf } from './recipients.ts'

export const people = (count: number): string => `${count} ${count === 1 ? 'person' : 'people'}`

/** Who is meant, as one reads it aloud after "to". */
async function sentenceOf(
  q: Queries,
  { search, tree, only, rehearsal }: BroadcastRequest['who'],
): Promise<string> {
  if (only) return `${people(only.length)} selected manually`
  const context = await loadContext(q, tree ? [tree] : [])
  const parts = [
    search === '' ? '' : `name or address contains “${search}”`,
    tree ? describeCondition(tree, context.names, context.scorecards) : '',
  ].filter((part) => part !== '' && part !== 'everybody')
  const all = rehearsal === 'only' ? 'everybody in rehearsal' : 'everybody'
  return parts.length === 0 ? all : `${all}, narrowed down to: ${parts.join(', and ')}`
}

async function liveEmail(q: Queries, id: number): Promise<{ name: string }> {
  const email = await q.row<{ name: string; live: boolean }>(
    'select name, published_version is not null and archived_at is null live from email where id = $1',
    [id],
  )
  if (!email) throw notFound('This email')
  if (!email.live)
    throw new Problem(409, `“${email.name}” is not live`, 'Publish it in the Library first, then send it.')
  return email
}

/** @throws Problem 422 when a subject has a merge field that there is none of */
async function refuseUnknownFields(q: Queries, subject: string): Promise<void> {
  const named = fieldsIn(subject)
  if (named.length === 0) return
  const { values } = readerValues(await loadMergeFields(q), null)
  const unknown = named.find(({ name }) => !values.has(fieldKey(name)))
  if (unknown !== undefined)
    throw new Problem(
      422,
      `There is no ${writtenField(unknown)}`,
      "Write a merge field as {first name or 'reader'}.",
    )
}

/** What a broadcast is begun with besides what was asked for. */
interface Begun {
  by: string
  /** The broadcast whose readers did not open it. */
  againOf?: number
}

async function storeVariants(q: Queries, broadcast: number, email: number, variants: readonly Variant[]) {
  await q.rows(
    `insert into broadcast_variant (broadcast_id, number, email_id, subject, sender_name)
     select $1, n, email, nullif(subject, ''), nullif(sender, '')
     from unnest($2::bigint[], $3::text[], $4::text[]) with ordinality v (email, subject, sender, n)`,
    [
      broadcast,
      variants.map((each) => each.email ?? email),
      variants.map(({ subject }) => subject),
      variants.map(({ senderName }) => senderName),
    ],
  )
}

/**
 * Begins a broadcast, or plans it: now or at its moment it is made ready for everybody who is meant and may get it.
 * @param first what its readers get in place of the email as it is
 * @returns its id
 * @throws Problem 404, 409, 422
 */
export async function startBroadcast(
  platform: Platform,
  request: BroadcastRequest,
  { by, againOf }: Begun,
  first: Variant = { email: null, subject: '', senderName: '' },
): Promise<number> {
  return platform.database.inTransaction(async (tx) => {
    const email = await liveEmail(tx, request.email)
    const variants = [first, ...(request.test?.variants ?? [])]
    for (const each of variants) {
      if (each.email !== null) await liveEmail(tx, each.email)
      await refuseUnknownFields(tx, each.subject)
    }
    if (request.topic !== null) {
      const topic = await tx.row('select id from topic where id = $1 and archived_at is null', [
        request.topic,
      ])
      if (!topic) throw notFound('This topic')
    }
    const now = platform.clock.now()
    const { zone } = await getBusiness(tx)
    const { goesAt, prepareAt, readerZone } = plannedMoments(request.moment, zone, now)
    const { gets } = await recipientsOf(tx, { ...request, againOf: againOf ?? null }, now)
    if (gets === 0)
      throw new Problem(
        409,
        'Nobody would get this email',
        'None of them may receive it, or all have already got it. Choose other people or another email.',
      )
    const sentence =
      againOf === undefined
        ? await sentenceOf(tx, request.who)
        : 'everybody who did not open it the first time'
    const { test } = request
    const made = await tx.row<{ id: number }>(
      `insert into broadcast (email_id, topic_id, sentence, by, created_at, who, goes_at, reader_zone, prepare_at,
         again_of, test_share, test_by, decide_at, decides_itself, expected)
       values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15) returning id`,
      [
        request.email,
        request.topic,
        sentence,
        by,
        new Date(now),
        JSON.stringify(request.who),
        new Date(goesAt),
        readerZone,
        new Date(prepareAt),
        againOf ?? null,
        test?.share ?? null,
        test?.by ?? null,
        test ? new Date(goesAt + test.afterHours * 3_600_000) : null,
        test?.itself ?? false,
        gets,
      ],
    )
    if (!made) throw new Error('an insert returned no row')
    await storeVariants(tx, made.id, request.email, variants)
    if (prepareAt <= now) await beginWork(tx, made.id, `Send “${email.name}” to ${people(gets)}`, now)
    await announce(tx, 'email')
    return made.id
  })
}

/** Has a broadcast made ready. */
async function beginWork(q: Queries, broadcast: number, title: string, now: Instant): Promise<void> {
  const work = await startWork(q, 'broadcast', title, { broadcast }, new Date(now))
  await q.rows('update broadcast set work_id = $2 where id = $1', [broadcast, work])
}

/** Has what is planned made ready as its time comes. */
export async function beginPlanned({ database, clock }: Platform): Promise<void> {
  const now = clock.now()
  const due = `work_id is null and called_back_by is null and prepare_at <= $1`
  if (!(await database.row(`select from broadcast where ${due} limit 1`, [new Date(now)]))) return
  await database.inTransaction(async (tx) => {
    const found = await tx.rows<{ id: number; name: string }>(
      `select broadcast.id, email.name from broadcast join email on email.id = email_id where ${due}
       order by prepare_at for update of broadcast skip locked`,
      [new Date(now)],
    )
    for (const { id, name } of found) await beginWork(tx, id, `Send “${name}” as planned`, now)
    await announce(tx, 'email')
  })
}
