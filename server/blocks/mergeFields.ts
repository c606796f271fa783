import { DateTime } from 'luxon'
import type { Instant } from '../../core/audience/people/activity.ts'
import type { MergeFieldChoice } from '../../contract/sharedDetails.ts'
import { fieldKey, type MergeFormat } from '../../core/blocks/mergeText.ts'
import {
  builtInNames,
  cartName,
  couponName,
  formatMerged,
  mergeNameOfDeadline,
  mergeNameOfJunction,
  readerValues,
  type MergedPerson,
  type MergeFields,
} from '../../core/blocks/mergeValues.ts'
import { detailContent, type DetailContent, type SharedDetail } from '../../core/blocks/sharedDetail.ts'
import { firstInstantOf } from '../../core/followups/waiting.ts'
import { openCodesOf } from '../commerce/couponCodes.ts'
import { deadlinesOf, loadDeadlines } from '../commerce/deadlines.ts'
import { cartWords } from '../commerce/openCarts.ts'
import type { Queries } from '../database/connect.ts'
import { notFound } from '../http/problems.ts'
import { getBusiness } from '../workspace/business.ts'

/** A detail as it is kept. */
export interface DetailRow {
  id: number
  name: string
  formerNames: string[]
  content: unknown
}

/** When a date and time is, where it is meant. */
const instantOf = ({ local, zone }: Extract<DetailContent, { kind: 'moment' }>): number =>
  firstInstantOf(DateTime.fromISO(local, { zone: 'utc' }).toMillis(), zone)

export function sharedDetail({ content, ...row }: DetailRow): SharedDetail {
  const read = detailContent.parse(content)
  return read.kind === 'moment'
    ? { ...row, kind: 'moment', at: instantOf(read), zone: read.zone }
    : { ...row, ...read }
}

/** Loads what texts can name besides what everybody has. Archived fields and junctions stay, for texts that name them. */
export async function loadMergeFields(q: Queries): Promise<MergeFields> {
  const own = await q.rows<MergeFields['own'][number]>(
    `select id, name, kind, options, to_json(former_names) "formerNames" from field order by name_key`,
  )
  const details = await q.rows<DetailRow>(
    `select id, name, content, to_json(former_names) "formerNames" from shared_detail order by name_key`,
  )
  const junctions = await q.rows<MergeFields['junctions'][number]>(
    `select path, to_json(array(select path from junction_former_path where junction_id = id)) "formerPaths"
     from junction order by path`,
  )
  const deadlines = (await loadDeadlines(q)).map(({ id, name }) => ({ id, name }))
  const { zone } = await getBusiness(q)
  return { own, details: details.map(sharedDetail), junctions, deadlines, zone }
}

/** What texts can say of a person. @param now on their clock @throws Problem 404 */
export async function loadMergedPerson(q: Queries, id: number, now: Instant): Promise<MergedPerson> {
  const found = await q.row<MergedPerson>(
    `select json_strip_nulls(json_build_object('firstName', first_name, 'lastName', last_name, 'address', address,
       'zone', zone)) "builtIn", fields own
     from contact where id = coalesce((select into_id from merged_contact where id = $1), $1)`,
    [id],
  )
  if (!found) throw notFound('This person')
  const cart = (await cartWords(q, [id])).get(id)
  const coupon = (await openCodesOf(q, [{ contact: id, now }])).get(id)
  const deadlines = (await deadlinesOf(q, [id])).get(id)
  return {
    ...found,
    ...(cart !== undefined && { cart }),
    ...(coupon !== undefined && { coupon }),
    ...(deadlines !== undefined && { deadlines }),
  }
}

const formatsOf = (kind: 'text' | 'number' | 'date' | 'moment'): MergeFormat[] => {
  switch (kind) {
    case 'text':
      return []
    case 'number':
      return ['number', 'wholeNumber']
    case 'date':
      return ['date', 'weekday']
    case 'moment':
      return ['dateAndTime', 'weekday', 'date', 'time']
  }
}

/** Everything that a text can name, with what it says to somebody. @throws Problem 404 */
export async function listMergeFields(
  q: Queries,
  person: number | null,
  now: Instant,
): Promise<MergeFieldChoice[]> {
  const fields = await loadMergeFields(q)
  const reader = readerValues(fields, person === null ? null : await loadMergedPerson(q, person, now))
  const choice = (
    name: string,
    from: MergeFieldChoice['from'],
    formats: readonly MergeFormat[],
  ): MergeFieldChoice => {
    const value = reader.values.get(fieldKey(name)) ?? null
    const said = formats.length > 0 ? formats : [null]
    return {
      name,
      from,
      formats: [...formats],
      says: value === null ? null : said.map((format) => formatMerged(value, format, reader.zone)),
    }
  }
  const archived = new Set(
    (await q.rows<{ id: number }>('select id from field where archived_at is not null')).map(({ id }) => id),
  )
  return [
    choice(builtInNames.firstName, 'person', ['name']),
    choice(builtInNames.lastName, 'person', ['name']),
    choice(builtInNames.address, 'person', []),
    choice(cartName, 'person', []),
    choice(couponName, 'person', []),
    ...fields.deadlines.map(({ name }) => choice(mergeNameOfDeadline(name), 'person', formatsOf('moment'))),
    ...fields.own
      .filter(({ id }) => !archived.has(id))
      .map(({ name, kind }) =>
        choice(name, 'own', formatsOf(kind === 'number' || kind === 'date' ? kind : 'text')),
      ),
    ...fields.details
      .filter(({ kind }) => kind !== 'picture')
      .map(({ name, kind }) => choice(name, 'detail', formatsOf(kind === 'moment' ? 'moment' : 'text'))),
    ...fields.junctions.map(({ path }) => choice(mergeNameOfJunction(path), 'junction', [])),
  ]
}
