import type { EmailLinkView, EmailRow, EmailView } from '../../contract/emails.ts'
import type { Purpose } from '../../core/audience/people/permission.ts'
import { copyDocument } from '../../core/blocks/operations.ts'
import { clickActions, emailContent, emailLinks, linkKey, type EmailContent } from '../../core/email/email.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import { randomPartId } from '../pages/partIds.ts'
import { emailDrafts } from './emailDrafts.ts'

/** Makes an email whose first version is a draft. @returns its id */
export async function createEmail(
  q: Queries,
  { name, content }: { name: string; content: EmailContent },
  doing: Doing,
): Promise<number> {
  const row = await q.row<{ id: number }>(
    'insert into email (name, purpose, created_at) values ($1, $2, $3) returning id',
    [name, content.purpose, doing.at],
  )
  if (!row) throw new Error('an insert returned no row')
  await emailDrafts.begin(q, row.id, content, doing)
  await announce(q, 'email')
  return row.id
}

/** Makes an email that can be sent at once. @throws Problem 422 when something of it is not right yet */
export async function publishNewEmail(
  q: Queries,
  email: { name: string; content: EmailContent },
  doing: Doing,
): Promise<{ id: number; name: string; purpose: Purpose }> {
  const id = await createEmail(q, email, doing)
  await emailDrafts.publish(q, id, { version: 1, revision: 1 }, doing)
  return { id, name: email.name, purpose: email.content.purpose }
}

/** What sends an email, in words, by its id. */
async function usesOfEmails(q: Queries): Promise<Map<number, string[]>> {
  const rows = await q.rows<{ id: number; usedIn: string[] }>(
    `with used (id, place) as (
       select (jsonb_path_query(program, '$.** ? (@.kind == "send").email'))::bigint, 'follow-up ' || name from followup
       union select email_id, 'broadcast' from broadcast_variant)
     select id, to_json(array_agg(place order by place)) "usedIn" from used group by id`,
  )
  return new Map(rows.map(({ id, usedIn }) => [id, usedIn]))
}

type Row = Omit<EmailRow, 'changedAt' | 'usedIn'> & { changedAt: Date }

/** Every email with what became of it, the one changed last first. */
export async function listEmails(q: Queries): Promise<EmailRow[]> {
  const rows = await q.rows<Row>(
    `select email.id, name, newest.content->>'subject' subject, purpose,
       case when archived_at is not null then 'archived' when published_version is null then 'draft' else 'live' end state,
       published_version is not null and newest.number > published_version "hasDraft",
       newest.made_at "changedAt", topic_id topic,
       coalesce(sent, 0) sent, coalesce(opened, 0) opened, coalesce(clicked, 0) clicked
     from email
     join lateral (select number, content, made_at from email_version where email_id = email.id
       order by number desc limit 1) newest on true
     left join (select email_id, count(*)::int sent, count(opened_at)::int opened, count(clicked_at)::int clicked
       from message join contact on contact.id = contact_id and not rehearsal
       where message.state = 'sent' group by email_id) counts on counts.email_id = email.id
     order by newest.made_at desc, email.id desc`,
  )
  const uses = await usesOfEmails(q)
  return rows.map(({ changedAt, ...row }) => ({
    ...row,
    changedAt: changedAt.toISOString(),
    usedIn: uses.get(row.id) ?? [],
  }))
}

/** The links of an email, with how often each was followed. */
export function linksOfEmail(q: Queries, id: number): Promise<EmailLinkView[]> {
  return q.rows<EmailLinkView>(
    `select link.id, link.block || ' ' || link.part key, link.label, link.gone,
       (select count(distinct contact_id)::int from activity join contact on contact.id = contact_id and not rehearsal
         where kind = 'emailClicked' and details->'link' = to_jsonb(link.id)) people,
       (select count(*)::int from machine_click where link_id = link.id) machines
     from email_link link where email_id = $1 order by gone, position, link.id`,
    [id],
  )
}

/** An email with its draft, as its editor opens it. @throws Problem 404 */
export async function viewEmail(q: Queries, id: number, doing: Doing): Promise<EmailView> {
  const view = await emailDrafts.view(q, id, doing)
  return {
    ...view,
    content: emailContent.parse(view.content),
    usedIn: (await usesOfEmails(q)).get(id) ?? [],
  }
}

export async function renameEmail(q: Queries, id: number, name: string): Promise<void> {
  if (!(await q.row('update email set name = $2 where id = $1 returning id', [id, name])))
    throw notFound('This email')
  await announce(q, 'email')
}

/** Makes a draft that says the same. @returns its id */
export async function copyEmail(q: Queries, id: number, doing: Doing): Promise<number> {
  const { name } = await emailDrafts.thing(q, id)
  const content = emailContent.parse((await emailDrafts.newest(q, id)).content)
  const document = copyDocument(content.document, randomPartId)
  // Its links have new names, in the same order: what their clicks do goes with them.
  const links = emailLinks({ document })
  const onClick = Object.fromEntries(
    clickActions(content).flatMap(({ actions }, i) => {
      const link = links[i]
      return link && actions.length > 0 ? [[linkKey(link), [...actions]]] : []
    }),
  )
  const copied = { ...content, document, onClick }
  return createEmail(q, { name: `${name} (copy)`.slice(0, 120), content: copied }, doing)
}

/** @throws Problem 409 while something sends it, and once somebody was sent it */
export async function deleteEmail(q: Queries, id: number): Promise<void> {
  await emailDrafts.thing(q, id)
  const usedIn = (await usesOfEmails(q)).get(id)
  if (usedIn)
    throw new Problem(409, 'This email is in use', `Take it out of these first: ${usedIn.join(', ')}.`)
  if (await q.row('select from message where email_id = $1 limit 1', [id]))
    throw new Problem(
      409,
      'This email was sent',
      'It stays, so that people’s journals can say what they got. Archive it instead.',
    )
  await q.rows('delete from email where id = $1', [id])
  await announce(q, 'email')
}
