import type { FieldEdit, FieldView } from '../../../contract/audience/describing.ts'
import { readFieldValue, type Field, type FieldValue } from '../../../core/audience/describing/field.ts'
import type { Queries } from '../../database/connect.ts'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { notFound, Problem } from '../../http/problems.ts'

export function listFields(q: Queries): Promise<FieldView[]> {
  return q.rows<FieldView>(
    `select id, name, kind, options, archived_at is not null archived,
       (select count(*) from contact where fields ? field.id::text and not rehearsal) people
     from field order by archived_at is not null, name_key`,
  )
}

/** The fields that are in use. */
export function openFields(q: Queries): Promise<Field[]> {
  return q.rows<Field>(
    'select id, name, kind, options from field where archived_at is null order by name_key',
  )
}

/**
 * Makes an own field, or renames, extends or archives the one with this id. Values are kept under the ids of the
 * field and its options, so none is lost by it; the kind cannot change, since the values have it.
 * @throws Problem 404, 409
 */
export async function saveField(platform: Platform, id: number | null, edit: FieldEdit): Promise<number> {
  const needsOptions = edit.kind === 'oneOf' || edit.kind === 'manyOf'
  if (needsOptions && edit.options.length === 0)
    throw new Problem(422, 'Options are missing', 'Add at least one option.', {
      options: 'Add at least one option.',
    })
  return platform.database.inTransaction(async (tx) => {
    const now = new Date(platform.clock.now())
    const other = await tx.row('select id from field where name_key = lower($1) and id is distinct from $2', [
      edit.name,
      id,
    ])
    if (other) throw new Problem(409, 'This field name is taken', 'Choose another name.')
    const options = JSON.stringify(needsOptions ? edit.options : [])
    const saved =
      id === null
        ? await tx.row<{ id: number }>(
            'insert into field (name, kind, options, created_at) values ($1, $2, $3, $4) returning id',
            [edit.name, edit.kind, options, now],
          )
        : await tx.row<{ id: number }>(
            `update field set former_names = case when name = $2 then former_names else array_append(former_names, name) end,
               name = $2, options = $3, archived_at = case when $4 then coalesce(archived_at, $5) end
             where id = $1 and kind = $6 returning id`,
            [id, edit.name, options, edit.archived, now, edit.kind],
          )
    if (!saved) {
      if (await tx.row('select id from field where id = $1', [id]))
        throw new Problem(
          409,
          'The type of a field cannot be changed',
          'Its values have that type. Create another field instead.',
        )
      throw notFound('This field')
    }
    await announce(tx, 'audience')
    return saved.id
  })
}

/** Reads typed values of own fields. @throws Problem 422 that names each value at fault */
export function readFields(fields: readonly Field[], typed: Readonly<Record<string, string>>) {
  const faults: Record<string, string> = {}
  const set: Record<string, FieldValue> = {}
  const cleared: string[] = []
  for (const field of fields) {
    const text = typed[field.id]
    if (text === undefined) continue
    const reading = readFieldValue(field, text)
    if (!reading.ok) faults[`fields.${field.id}`] = reading.reason
    else if (reading.value === null) cleared.push(String(field.id))
    else set[field.id] = reading.value
  }
  if (Object.keys(faults).length > 0)
    throw new Problem(422, 'Some values are not valid', 'Correct the marked fields and save again.', faults)
  return { set, cleared }
}
