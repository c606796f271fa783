import type { ImportChoices, ImportView } from '../contract/audience/imports.ts'
import type { WorkView } from '../contract/work.ts'
import type { TestInstall } from './install.ts'
import type { Marketer } from './marketer.ts'
import { eventually } from './waiting.ts'

/** Waits until a piece of long work has ended. */
export function workEnded(marketer: Marketer, id: number, patience?: number): Promise<WorkView> {
  return eventually(async () => {
    const work = (await marketer.get<WorkView[]>('/work')).find((each) => each.id === id)
    return work && !['waiting', 'running'].includes(work.state) && work
  }, patience)
}

/** Posts, and reads the answer. @throws when it is refused */
export async function made<T>(answer: Promise<Response>): Promise<T> {
  const got = await answer
  if (!got.ok) throw new Error(`answered ${got.status}: ${await got.text()}`)
  return (await got.json()) as T
}

/** Uploads a file; gives the import, or what was refused. */
export async function upload(marketer: Marketer, content: string | Buffer, name = 'people.csv') {
  const answer = await marketer.send(`/imports?name=${encodeURIComponent(name)}`, content)
  const body = (await answer.json()) as { id: number; title?: string; detail?: string }
  return { status: answer.status, ...body }
}

export const agreedChoices = {
  permission: 'agreed',
  statement: 'Signed the list at the spring fair',
  existing: 'update',
  tags: [],
  topics: [],
  startFollowups: false,
} satisfies Omit<ImportChoices, 'columns'>

/** Uploads a file and tries it out with the columns as they were guessed, or as given. */
export async function tryOut(
  marketer: Marketer,
  content: string | Buffer,
  choices: Partial<ImportChoices> = {},
) {
  const { id } = await upload(marketer, content)
  const { columns } = (await marketer.get<ImportView>(`/imports/${id}`)).choices
  const request = { ...agreedChoices, columns, ...choices }
  const { work } = await made<{ work: number }>(marketer.post(`/imports/${id}/check`, request))
  const ended = await workEnded(marketer, work)
  return { id, ended, view: await marketer.get<ImportView>(`/imports/${id}`) }
}

/** Does an import from upload to end. */
export async function importAll(
  marketer: Marketer,
  content: string | Buffer,
  choices: Partial<ImportChoices> = {},
) {
  const { id } = await tryOut(marketer, content, choices)
  const { work } = await made<{ work: number }>(marketer.post(`/imports/${id}/run`))
  const ended = await workEnded(marketer, work, 30_000)
  return { id, ended, view: await marketer.get<ImportView>(`/imports/${id}`) }
}

/** Every row of a table about people of these tests, to hold two moments against each other. */
export async function snapshot(install: TestInstall): Promise<Record<string, unknown[]>> {
  const tables = {
    contact: `select address, address_key, first_name, last_name, phone, country, language, zone, fields, marketing_state from contact order by address_key`,
    contact_tag:
      'select address_key, name from contact_tag join contact on contact.id = contact_id join tag on tag.id = tag_id order by 1, 2',
    contact_topic:
      'select address_key, topic_id, agreed from contact_topic join contact on contact.id = contact_id order by 1, 2',
    consent:
      'select address_key, given, wording from consent join contact on contact.id = contact_id order by 1, 3',
  }
  const entries = await Promise.all(
    Object.entries(tables).map(
      async ([name, sql]) => [name, await install.platform.database.rows(sql)] as const,
    ),
  )
  return Object.fromEntries(entries)
}
