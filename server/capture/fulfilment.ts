import type { Instant, Source } from '../../core/audience/people/activity.ts'
import { valueSetBy } from '../../core/audience/people/personAction.ts'
import type { FieldValue } from '../../core/audience/describing/field.ts'
import type { Answers } from '../../core/capture/answers.ts'
import { consentsOf, type FormAction } from '../../core/capture/form.ts'
import { recordActivities } from '../audience/people/activities.ts'
import type { NewActivity } from '../audience/people/newActivity.ts'
import type { Contact, NewContact } from '../audience/people/contacts.ts'
import { putOnTags, removeTags, type Tagging } from '../audience/describing/tags.ts'
import type { Queries } from '../database/connect.ts'
import type { NewJob } from '../work/jobs.ts'
import type { PublishedForm } from './publishedForms.ts'

/** Where a form stood that was sent. */
export interface Place {
  /** As one says it in a sentence: the name of a page, or of another site. */
  name: string
  page?: number
  pageVersion?: number
  popUp?: number
  /** Another site, by its origin. */
  site?: string
}

/** What a form asks for in somebody's name. */
export interface AskedFor {
  form: PublishedForm
  place: Place
  answers: Omit<Answers, 'address'>
  source: Source
  ip: string | null
  /** The take of a quiz by which the address was asked for. */
  take?: number
}

/** A form that counts, with whom it is about. */
export interface Fulfilment {
  contact: Contact
  asked: AskedFor
  at: Instant
  /** When they said by a click in an email that it was them. */
  confirmedAt: Instant | null
  /** It is surely them: what they say of themselves takes the place of what is known, else it only fills blanks. */
  trusted: boolean
  /** They were just put on the list, with all that the form says of them. */
  described: boolean
}

/** The own fields that the form sets by itself. */
function fixedFields({ form }: AskedFor): Record<number, FieldValue> {
  return Object.fromEntries<FieldValue>(
    form.content.actions.flatMap((action) =>
      action.does === 'setField' ? Object.entries(valueSetBy(action, form.fields)?.values ?? {}) : [],
    ),
  )
}

/** What somebody who is new is known by at once, when their form counts. */
export const newContactOf = (asked: AskedFor): NewContact => {
  const { own, firstName, lastName, phone, country, agreed } = asked.answers
  return {
    ...(firstName !== undefined && { firstName }),
    ...(lastName !== undefined && { lastName }),
    ...(phone !== undefined && { phone }),
    ...(country !== undefined && { country }),
    fields: { ...own, ...fixedFields(asked) },
    source: asked.source,
    marketingState: agreed.length > 0 ? 'subscribed' : 'neverAsked',
  }
}

/** Writes down what people said of themselves. */
async function describeContacts(q: Queries, all: readonly Fulfilment[]): Promise<void> {
  if (all.length === 0) return
  const rows = all.map(({ contact, asked, trusted, at }) => {
    const { own, firstName, lastName, phone, country } = asked.answers
    return {
      id: contact.id,
      first_name: firstName ?? '',
      last_name: lastName ?? '',
      phone: phone ?? null,
      country: country ?? null,
      own,
      fixed: fixedFields(asked),
      source: asked.source,
      trusted,
      at: new Date(at).toISOString(),
    }
  })
  await q.rows(
    `update contact set
       first_name = case when t.trusted then coalesce(nullif(t.first_name, ''), contact.first_name)
         else coalesce(nullif(contact.first_name, ''), t.first_name) end,
       last_name = case when t.trusted then coalesce(nullif(t.last_name, ''), contact.last_name)
         else coalesce(nullif(contact.last_name, ''), t.last_name) end,
       phone = case when t.trusted then coalesce(t.phone, contact.phone) else coalesce(contact.phone, t.phone) end,
       country = case when t.trusted then coalesce(t.country, contact.country)
         else coalesce(contact.country, t.country) end,
       fields = case when t.trusted then contact.fields || t.own else t.own || contact.fields end || t.fixed,
       source = case when contact.source = '{}' then t.source else contact.source end,
       updated_at = t.at
     from jsonb_to_recordset($1::jsonb) t (id bigint, first_name text, last_name text, phone text, country text, own jsonb,
       fixed jsonb, source jsonb, trusted boolean, at timestamptz)
     where contact.id = t.id`,
    [JSON.stringify(rows)],
  )
}

/** Writes what people agreed to into the ledger of consent, with all that proves it, and makes them subscribed. */
async function giveConsents(q: Queries, all: readonly Fulfilment[]): Promise<NewActivity[]> {
  const given = all.flatMap(({ contact, asked, at, confirmedAt, described }) =>
    consentsOf(asked.form.content)
      .filter(({ id }) => asked.answers.agreed.includes(id))
      .map((consent) => ({ contact: contact.id, consent, asked, at, confirmedAt, described })),
  )
  if (given.length === 0) return []
  const rows = given.flatMap(({ contact, consent, asked: { form, place, ip }, at, confirmedAt }) =>
    // One entry for each topic; without topics, one for all.
    (consent.topics.length > 0 ? consent.topics : [null]).map((topic) => ({
      contact_id: contact,
      wording: consent.label,
      source: place.name,
      sender_ip: ip,
      at: new Date(at).toISOString(),
      topic_id: topic,
      wording_id: form.wordings[consent.id] ?? null,
      form_id: form.id,
      form_version: form.version,
      page_id: place.page ?? null,
      page_version: place.pageVersion ?? null,
      site: place.site ?? null,
      confirmed_at: confirmedAt === null ? null : new Date(confirmedAt).toISOString(),
    })),
  )
  const stored = await q.rows<{ contact: number; topic: number | null }>(
    `insert into consent (contact_id, given, wording, source, sender_ip, at, topic_id, wording_id, form_id, form_version,
       page_id, page_version, site, confirmed_at)
     select contact_id, true, wording, source, sender_ip, at,
       -- A topic or a page may have been deleted since the form was published.
       (select id from topic where id = topic_id), wording_id, form_id, form_version,
       (select id from page where id = page_id), page_version, site, confirmed_at
     from jsonb_to_recordset($1::jsonb) t (contact_id bigint, wording text, source text, sender_ip inet, at timestamptz,
       topic_id bigint, wording_id bigint, form_id bigint, form_version integer, page_id bigint, page_version integer,
       site text, confirmed_at timestamptz)
     returning contact_id contact, topic_id topic`,
    [JSON.stringify(rows)],
  )
  const subscribing = given.filter(({ described }) => !described).map(({ contact }) => contact)
  if (subscribing.length > 0) {
    await q.rows(
      `update contact set marketing_state = 'subscribed' where id = any($1) and marketing_state <> 'subscribed'`,
      [subscribing],
    )
  }
  const byContact = new Map(given.map((each) => [each.contact, each]))
  const topics = stored.flatMap(({ contact, topic }) => {
    const of = byContact.get(contact)
    return topic === null || !of ? [] : [{ contact, topic, at: of.at, by: `form ${of.asked.form.name}` }]
  })
  return [
    ...[...byContact.values()].map(({ contact, at, asked }): NewActivity => ({
      contact,
      kind: 'consentGiven',
      at,
      details: { source: asked.place.name },
    })),
    ...(await joinTopics(q, topics)),
  ]
}

async function joinTopics(
  q: Queries,
  joining: readonly { contact: number; topic: number; at: Instant; by: string }[],
): Promise<NewActivity[]> {
  if (joining.length === 0) return []
  const joined = await q.rows<{ contact: number; topic: number }>(
    `insert into contact_topic (contact_id, topic_id, agreed, at, by)
     select distinct on (contact, topic) contact, topic, true, at, by
     from unnest($1::bigint[], $2::bigint[], $3::timestamptz[], $4::text[]) t (contact, topic, at, by)
     order by contact, topic
     on conflict (contact_id, topic_id) do update set agreed = true, at = excluded.at, by = excluded.by
       where not contact_topic.agreed
     returning contact_id contact, topic_id topic`,
    [
      joining.map(({ contact }) => contact),
      joining.map(({ topic }) => topic),
      joining.map(({ at }) => new Date(at)),
      joining.map(({ by }) => by),
    ],
  )
  return joined.flatMap(({ contact, topic }): NewActivity[] => {
    const of = joining.find((each) => each.contact === contact && each.topic === topic)
    return of ? [{ contact, kind: 'topicJoined', at: of.at, details: { topic, by: of.by } }] : []
  })
}

type TagOf = (action: FormAction) => number | null

/** What a form does with tags, put together by what the journal says of it. */
async function tagPeople(q: Queries, all: readonly Fulfilment[]): Promise<NewActivity[]> {
  const bySource = new Map<string, { add: Tagging[]; remove: Tagging[] }>()
  for (const { contact, asked, at, confirmedAt } of all) {
    const by = `form of ${asked.place.name}`
    const group = bySource.get(by) ?? { add: [], remove: [] }
    bySource.set(by, group)
    const { actions, confirm } = asked.form.content
    const tagged = (of: TagOf): Tagging[] =>
      actions.flatMap((action) => {
        const tag = of(action)
        return tag === null ? [] : [{ contact: contact.id, tag, at }]
      })
    group.add.push(...tagged((action) => (action.does === 'addTag' ? action.tag : null)))
    group.remove.push(...tagged((action) => (action.does === 'removeTag' ? action.tag : null)))
    if (confirmedAt === null) continue
    if (confirm.confirmedTag !== null) group.add.push({ contact: contact.id, tag: confirm.confirmedTag, at })
    if (confirm.waitingTag !== null) group.remove.push({ contact: contact.id, tag: confirm.waitingTag, at })
  }
  const done: NewActivity[] = []
  for (const [by, { add, remove }] of bySource) {
    await removeTags(q, remove, by)
    done.push(...(await putOnTags(q, add, by)))
  }
  return done
}

/** The mail that was asked for: the files, which the journal names, and what the team is told. */
function askedMail(all: readonly Fulfilment[]): { jobs: NewJob[]; activities: NewActivity[] } {
  const jobs: NewJob[] = []
  const activities: NewActivity[] = []
  for (const { contact, at, asked } of all) {
    const { form, place, answers } = asked
    for (const action of form.content.actions) {
      if (action.does !== 'sendFile' || action.file === null) continue
      const { file } = action
      jobs.push({ name: 'sendFile', payload: { contact: contact.id, file } })
      activities.push({ contact: contact.id, kind: 'fileSent', at, details: { file } })
    }
    if (!form.content.actions.some(({ does }) => does === 'notifyTeam')) continue
    const { id, version } = form
    jobs.push({
      name: 'notifyTeam',
      payload: { contact: contact.id, form: id, version, place: place.name, answers },
    })
  }
  return { jobs, activities }
}

/** What the journal says of a form itself. */
function sentActivities({ contact, asked, at }: Fulfilment): NewActivity[] {
  const { form, place, source, answers } = asked
  const sent: NewActivity = {
    contact: contact.id,
    kind: 'formSent',
    at,
    details: {
      form: form.id,
      ...(place.page !== undefined && { page: place.page }),
      ...(place.site !== undefined && { site: place.site }),
      ...(place.popUp !== undefined && { popUp: place.popUp }),
      ...(Object.keys(source).length > 0 && { source }),
    },
  }
  const { message } = answers
  if (message === undefined) return [sent]
  return [sent, { contact: contact.id, kind: 'messageLeft', at, details: { form: form.id, words: message } }]
}

/**
 * What forms that count do, in the transaction of `q`: what people said of themselves, consent, topics, tags, the
 * activity that starts follow-ups, and the mail that they asked for. With one statement for all forms where one by one
 * would take as many.
 */
export async function fulfilForms(q: Queries, all: readonly Fulfilment[]): Promise<void> {
  if (all.length === 0) return
  await describeContacts(
    q,
    all.filter(({ described }) => !described),
  )
  const added = all.flatMap(({ contact, at, described }): NewActivity[] =>
    described ? [{ contact: contact.id, kind: 'contactAdded', at, details: { by: 'form' } }] : [],
  )
  const agreed = await giveConsents(q, all)
  const tagged = await tagPeople(q, all)
  const mail = askedMail(all)
  await recordActivities(
    q,
    [...added, ...agreed, ...tagged, ...all.flatMap(sentActivities), ...mail.activities],
    mail.jobs,
  )
}
