import type { FormTrial } from '../../contract/forms.ts'
import { notFound } from '../http/problems.ts'
import { readerMark } from '../pages/readers.ts'
import type { Platform } from '../platform.ts'

/**
 * Links by which a form is used as somebody in rehearsal: as they would come to it by a link of their mail, counted
 * nowhere. @throws Problem 404 when there is no such form
 */
export async function formTrials(platform: Platform, form: number): Promise<FormTrial[]> {
  const { database, settings } = platform
  const found = await database.row<{ key: string }>('select key from form where id = $1', [form])
  if (!found) throw notFound('This form')
  const people = await database.rows<{ contact: number; name: string }>(
    `select id contact, coalesce(nullif(concat_ws(' ', nullif(first_name, ''), nullif(last_name, '')), ''), address) name
     from contact where rehearsal order by name, id limit 100`,
  )
  return people.map(({ contact, name }) => ({
    contact,
    name,
    url: `${settings.publicUrl}/forms/frame/${found.key}?me=${readerMark(platform, contact)}`,
  }))
}
