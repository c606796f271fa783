import type { PersonEdit } from '../../../contract/audience/people.ts'
import { parseAddress, type Address } from '../../../core/audience/people/address.ts'
import { countryFrom } from '../../../core/audience/people/country.ts'
import { readPhone } from '../../../core/audience/people/phone.ts'
import { isZone } from '../../../core/followups/waiting.ts'
import type { z } from 'zod'
import type { personNew } from '../../../contract/audience/people.ts'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { Problem } from '../../http/problems.ts'
import type { Queries } from '../../database/connect.ts'
import { recordActivities } from './activities.ts'
import { contactById, personNow } from './contacts.ts'
import { openFields, readFields } from '../describing/fields.ts'
import { giveConsent } from './permission.ts'
import { addTags, tagsNamed } from '../describing/tags.ts'

interface ReadPerson {
  address: Address
  phone: string | null
  country: string | null
}

/** @throws Problem 422 that names each value at fault */
function readPerson(edit: PersonEdit): ReadPerson {
  const faults: Record<string, string> = {}
  const address = parseAddress(edit.address)
  if (!address) faults.address = 'This is not an email address: it should look like name@example.com'
  const country = edit.country === '' ? null : countryFrom(edit.country)
  if (edit.country !== '' && !country)
    faults.country = 'Use the name or the two letters of a country, such as IE'
  const phone = edit.phone === '' ? null : readPhone(edit.phone, country ?? '')
  if (edit.phone !== '' && !phone)
    faults.phone = 'This is not a phone number. Start with + and the country code, such as +353'
  if (edit.zone !== '' && !isZone(edit.zone))
    faults.zone = 'Use the name of a time zone, such as Europe/Dublin'
  if (Object.keys(faults).length > 0 || !address)
    throw new Problem(422, 'Some values are not valid', 'Correct the marked fields and save again.', faults)
  return { address, phone, country }
}

async function refuseTaken(q: Queries, key: string, but: number | null): Promise<void> {
  const taken = await q.row<{ id: number }>(
    `select id from contact where address_key = $1 and id is distinct from $2
     union all select contact_id from other_address where address_key = $1 and contact_id is distinct from $2`,
    [key, but],
  )
  if (taken)
    throw new Problem(
      409,
      'This email address is taken',
      'Open that person, and merge the two if they are the same.',
      {
        address: 'Another person has this address',
      },
    )
}

/** Writes what everybody has and the own fields that were given. */
async function write(q: Queries, id: number, edit: PersonEdit, read: ReadPerson, at: Date): Promise<void> {
  const own = readFields(await openFields(q), edit.fields)
  await q.rows(
    `update contact set address = $2, address_key = $3, first_name = $4, last_name = $5, phone = $6, country = $7,
       language = nullif($8, ''), zone = nullif($9, ''), fields = (fields || $10) - $11::text[], updated_at = $12
     where id = $1`,
    [
      id,
      read.address.shown,
      read.address.key,
      edit.firstName,
      edit.lastName,
      read.phone,
      read.country,
      edit.language,
      edit.zone,
      JSON.stringify(own.set),
      own.cleared,
      at,
    ],
  )
}

/**
 * Adds a person by hand. With the way in which they agreed they are subscribed; without one nobody has asked them.
 * @throws Problem 409 when the address is taken, 422 when something cannot be used
 */
export async function addPerson(
  platform: Platform,
  request: z.infer<typeof personNew>,
  by: string,
): Promise<number> {
  const read = readPerson(request)
  return platform.database.inTransaction(async (tx) => {
    await refuseTaken(tx, read.address.key, null)
    const at = platform.clock.now()
    const made = await tx.row<{ id: number }>(
      `insert into contact (address, address_key, rehearsal, created_at, updated_at)
       values ($1, $2, $4, $3, $3) returning id`,
      [read.address.shown, read.address.key, new Date(at), request.rehearsal],
    )
    if (!made) throw new Error('an insert returned no row')
    await write(tx, made.id, request, read, new Date(at))
    await recordActivities(tx, [{ contact: made.id, kind: 'contactAdded', at, details: { by: 'hand' } }])
    if (request.consent !== '')
      await giveConsent(tx, {
        contact: made.id,
        wording: request.consent,
        source: `added by ${by}`,
        ip: null,
        at,
      })
    const tags = await tagsNamed(tx, request.tags, new Date(at))
    await addTags(
      tx,
      tags.map((tag) => ({ contact: made.id, tag, at })),
      by,
    )
    await announce(tx, 'audience')
    return made.id
  })
}

const labels: Record<string, string> = {
  address: 'address',
  first_name: 'first name',
  last_name: 'last name',
  phone: 'phone',
  country: 'country',
  language: 'language',
  zone: 'time zone',
  fields: 'own fields',
}

/** Changes what is known of a person; the journal names what changed. @throws Problem 404, 409, 422 */
export async function editPerson(
  platform: Platform,
  id: number,
  edit: PersonEdit,
  by: string,
): Promise<void> {
  const read = readPerson(edit)
  await platform.database.inTransaction(async (tx) => {
    const contact = await contactById(tx, id, 'change')
    await refuseTaken(tx, read.address.key, id)
    const known = `select ${Object.keys(labels).join(', ')} from contact where id = $1`
    const before = await tx.row<Record<string, unknown>>(known, [id])
    const at = personNow(platform.clock, contact)
    await write(tx, id, edit, read, new Date(at))
    const after = await tx.row<Record<string, unknown>>(known, [id])
    const changed = Object.keys(labels).filter(
      (key) => JSON.stringify(before?.[key]) !== JSON.stringify(after?.[key]),
    )
    if (changed.length === 0) return
    const fields = changed.map((key) => labels[key] ?? key)
    const [old, fresh] = [before, after].map((each) => (each?.fields ?? {}) as Record<string, unknown>)
    const own = Object.keys({ ...old, ...fresh }).filter(
      (key) => JSON.stringify(old?.[key]) !== JSON.stringify(fresh?.[key]),
    )
    const details = { fields, changed: own.map(Number), by }
    await recordActivities(tx, [{ contact: id, kind: 'contactChanged', at, details }])
    await announce(tx, 'audience')
  })
}
