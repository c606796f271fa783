import type { EmailReport } from '../../contract/emails.ts'
import { moneyOfEmail } from '../commerce/moneyIn.ts'
import type { Queries } from '../database/connect.ts'
import { notFound } from '../http/problems.ts'
import { csvLines } from '../audience/people/exports.ts'
import { linksOfEmail } from './emails.ts'

/** Moments after sending at which the report says how many had opened and clicked by then (hours). */
const hours = [1, 2, 4, 8, 12, 24, 48, 72, 168]

/** Domains that are told one by one; the rest is together. */
const mostDomains = 10

type Counts = Pick<
  EmailReport,
  | 'name'
  | 'subject'
  | 'tracked'
  | 'sent'
  | 'held'
  | 'failed'
  | 'opened'
  | 'machineOpened'
  | 'clicked'
  | 'unsubscribed'
>

/** Messages of the email with the id $1 to people, none in rehearsal. */
const messages = `message join contact on contact.id = contact_id and message.email_id = $1 and not rehearsal`

async function countsOf(q: Queries, id: number): Promise<Counts> {
  const counts = await q.row<Counts>(
    `select email.name, coalesce(version.content->>'subject', '') subject,
       coalesce((version.content->>'tracked')::boolean, true) tracked, counts.*
     from email left join email_version version on version.email_id = email.id and number = published_version
     cross join (select
         count(*) filter (where message.state = 'sent')::int sent,
         count(*) filter (where message.state = 'held')::int held,
         count(*) filter (where message.state = 'failed')::int failed,
         count(opened_at)::int opened,
         count(*) filter (where opened_at is null and machine_opened_at is not null)::int "machineOpened",
         count(clicked_at)::int clicked,
         count(*) filter (where exists (select from activity
           where kind = 'unsubscribed' and details->'message' = to_jsonb(message.id)))::int unsubscribed
       from ${messages}) counts
     where email.id = $1`,
    [id],
  )
  if (!counts) throw notFound('This email')
  return counts
}

function byHour(q: Queries, id: number): Promise<EmailReport['byHour']> {
  return q.rows(
    `select hours, count(*) filter (where opened_at <= sent_at + hours * interval '1 hour')::int opened,
       count(*) filter (where clicked_at <= sent_at + hours * interval '1 hour')::int clicked
     from ${messages} cross join unnest($2::int[]) hours where message.state = 'sent'
     group by hours order by hours`,
    [id, hours],
  )
}

async function byDomain(q: Queries, id: number): Promise<EmailReport['byDomain']> {
  return q.rows(
    `with domains as (
       select lower(split_part(address, '@', 2)) domain, count(*) filter (where message.state = 'sent')::int sent,
         count(opened_at)::int opened, count(clicked_at)::int clicked,
         count(*) filter (where message.state = 'failed')::int failed
       from ${messages} group by 1),
     ranked as (select *, row_number() over (order by sent desc, domain) place from domains)
     select case when place <= $2 then domain else 'all others' end domain, sum(sent)::int sent, sum(opened)::int opened,
       sum(clicked)::int clicked, sum(failed)::int failed
     from ranked group by 1, case when place <= $2 then place else $2 + 1 end
     order by case when place <= $2 then place else $2 + 1 end`,
    [id, mostDomains],
  )
}

function byDevice(q: Queries, id: number): Promise<EmailReport['byDevice']> {
  return q.rows(
    `select coalesce(device, 'not known') device, count(*)::int opened, count(clicked_at)::int clicked
     from ${messages} where opened_at is not null group by 1 order by 2 desc`,
    [id],
  )
}

/** What became of an email, over all that ever sent it. @throws Problem 404 */
export async function reportEmail(q: Queries, id: number): Promise<EmailReport> {
  return {
    ...(await countsOf(q, id)),
    money: await moneyOfEmail(q, id),
    links: await linksOfEmail(q, id),
    byHour: await byHour(q, id),
    byDomain: await byDomain(q, id),
    byDevice: await byDevice(q, id),
  }
}

/** Rows of a report that are read at once. */
const batch = 5_000

const iso = (at: Date | null): string => at?.toISOString() ?? ''

/** Whom an email went to and what they did, as CSV, piece by piece. */
export async function* reportCsv(q: Queries, id: number): AsyncGenerator<string> {
  yield csvLines([['Email', 'State', 'Sent', 'Opened', 'Clicked', 'Device', 'Problem']])
  let after = 0
  for (;;) {
    const rows = await q.rows<{
      id: number
      address: string
      state: string
      sent: Date | null
      opened: Date | null
      clicked: Date | null
      device: string | null
      problem: string | null
    }>(
      `select message.id, address, message.state, sent_at sent, opened_at opened, clicked_at clicked, device, problem
       from ${messages} where message.id > $2 order by message.id limit ${batch}`,
      [id, after],
    )
    const last = rows.at(-1)
    if (!last) return
    after = last.id
    yield csvLines(
      rows.map((row) => [
        row.address,
        row.state,
        iso(row.sent),
        iso(row.opened),
        iso(row.clicked),
        row.device ?? '',
        row.problem ?? '',
      ]),
    )
  }
}

const share = (part: number, whole: number): string => `${((part / whole) * 100).toFixed(1)} %`

/**
 * The email as it is published with the clicks of each link drawn over it.
 * @param read fills a template as nobody in particular reads it
 */
export async function drawClicks(
  q: Queries,
  id: number,
  read: (template: string) => Promise<string>,
): Promise<string> {
  const version = await q.row<{ html: string | null; links: number[]; sent: number }>(
    `select html_template html, to_json(links) links,
       (select count(*)::int from ${messages} where message.state = 'sent') sent
     from email_version join email on email.id = email_id
     where email.id = $1 and number = published_version`,
    [id],
  )
  if (!version) throw notFound('This email')
  if (version.html === null) return '<p>This email is plain text.</p>'
  const { links, sent } = version
  const people = new Map((await linksOfEmail(q, id)).map((link) => [link.id, link.people]))
  const marked = version.html.replace(
    /(<a\b[^>]*href="\{\{ links\[(\d+)\] \}\}"[^>]*>)/g,
    (_, tag: string, n: string) => {
      const count = people.get(links[Number(n)] ?? 0) ?? 0
      return `${tag}<span class="clicks">${count}${sent > 0 ? ` · ${share(count, sent)}` : ''}</span>`
    },
  )
  const style =
    '<style>a{position:relative}.clicks{position:absolute;top:-12px;right:-8px;z-index:9;padding:1px 6px;border-radius:9px;background:#14323C;color:#fff;font:600 12px/16px sans-serif;white-space:nowrap}</style>'
  return `${style}${await read(marked)}`
}
