import type { Instant } from '../../../core/audience/people/activity.ts'
import type { FieldValue } from '../../../core/audience/describing/field.ts'
import type { Queries } from '../../database/connect.ts'
import { recordActivities } from '../people/activities.ts'

/** A value for an own field of somebody. */
export interface FieldSetting {
  contact: number
  field: number
  value: FieldValue
  at: Instant
}

/**
 * Sets own fields of people, and writes down what changed; where a value is there already, or the field is gone,
 * nothing happens. When one person and field are named more than once, the last counts.
 */
export async function setOwnFields(q: Queries, settings: readonly FieldSetting[], by: string): Promise<void> {
  if (settings.length === 0) return
  const changed = await q.rows<{ contact: number; at: Date; ids: number[]; names: string[] }>(
    `with wanted as (
       select distinct on (contact, field) contact, field, value, at, name
       from unnest($1::bigint[], $2::bigint[], $3::jsonb[], $4::timestamptz[]) with ordinality t (contact, field, value, at, n)
         join field on field.id = t.field order by contact, field, n desc),
     whole as (
       select contact, jsonb_object_agg(field, value) fields, max(wanted.at) at, json_agg(field) ids, json_agg(name) names
       from wanted join contact on contact.id = contact
       where contact.fields->(field::text) is distinct from value group by contact)
     update contact set fields = contact.fields || whole.fields, updated_at = whole.at
     from whole where contact.id = whole.contact returning contact.id contact, whole.at, ids, names`,
    [
      settings.map(({ contact }) => contact),
      settings.map(({ field }) => field),
      settings.map(({ value }) => JSON.stringify(value)),
      settings.map(({ at }) => new Date(at)),
    ],
  )
  await recordActivities(
    q,
    changed.map(({ contact, at, ids, names }) => ({
      contact,
      kind: 'contactChanged',
      at: at.getTime(),
      details: { fields: names, changed: ids, by },
    })),
  )
}
