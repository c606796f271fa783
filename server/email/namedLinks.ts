import type { NamedLinkEdit, NamedLinkView } from '../../contract/namedLinks.ts'
import type { Instant } from '../../core/audience/people/activity.ts'
import type { TargetKind } from '../../core/blocks/target.ts'
import { isLinkActionOpen } from '../../core/email/linkAction.ts'
import { personNow, survivorOf } from '../audience/people/contacts.ts'
import { loadKnownThings } from '../audience/describing/knownThings.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import { usesOf } from '../pages/usage.ts'
import type { Platform } from '../platform.ts'
import { leadsByLink } from '../junctions/surroundings.ts'
import { linkAddress } from './linkAddress.ts'
import { namedLink } from './namedLink.ts'
import { applyActions } from './linkActions.ts'

/** The named links of the Library, with how often each was followed, in emails and on pages. */
export async function listNamedLinks(q: Queries): Promise<NamedLinkView[]> {
  const rows = await q.rows<Omit<NamedLinkView, 'usedIn'>>(
    `select link.id, link.name, link.target, link.actions, counts.people, counts.strangers, counts.machines
     from named_link link left join lateral (
       select count(distinct contact_id) filter (where not machine)::int people,
         count(*) filter (where not machine and contact_id is null)::int strangers,
         count(*) filter (where machine)::int machines
       from named_link_click click left join contact on contact.id = contact_id
       where link_id = link.id and coalesce(not rehearsal, true)) counts on true
     order by link.name_key`,
  )
  const uses = await usesOf(
    q,
    'namedLink',
    rows.map(({ id }) => id),
  )
  return rows.map((row) => ({ ...row, usedIn: uses.get(row.id) ?? [] }))
}

/** What both emails and pages can lead to. */
const leadsSomewhere: ReadonlySet<TargetKind> = new Set(['page', 'file', 'web', 'path', 'junction'])

async function refuseOpen(q: Queries, id: number | null, { target, actions }: NamedLinkEdit): Promise<void> {
  if (!leadsSomewhere.has(target.to))
    throw new Problem(
      422,
      'Choose where it leads',
      'A named link leads to a page, a file, a junction or an address.',
    )
  if (id !== null && target.to === 'junction' && (await leadsByLink(q, target.junction, id)))
    throw new Problem(
      422,
      'This would lead round in a circle',
      'That junction leads on by this very link. Choose something else, there or here.',
    )
  const known = await loadKnownThings(q)
  if (actions.some((action) => isLinkActionOpen(action, known)))
    throw new Problem(
      422,
      'Choose what a click does',
      'Something of what a click does is not chosen, or is gone.',
    )
}

const taken = (name: string): Problem =>
  new Problem(409, 'This name is taken', `There is a link called “${name}”. Choose another name.`)

/** @throws Problem 409, 422 */
export async function createNamedLink(q: Queries, edit: NamedLinkEdit, { by, at }: Doing): Promise<number> {
  await refuseOpen(q, null, edit)
  const row = await q.row<{ id: number }>(
    `insert into named_link (name, target, actions, changed_at, changed_by) values ($1, $2, $3, $4, $5)
     on conflict (name_key) do nothing returning id`,
    [edit.name, JSON.stringify(edit.target), JSON.stringify(edit.actions), at, by],
  )
  if (!row) throw taken(edit.name)
  await announce(q, 'pages')
  return row.id
}

/** Changes where a link leads and what a click does, also in mail that was sent. @throws Problem 404, 409, 422 */
export async function saveNamedLink(
  q: Queries,
  id: number,
  edit: NamedLinkEdit,
  { by, at }: Doing,
): Promise<void> {
  await refuseOpen(q, id, edit)
  if (await q.row('select from named_link where name_key = lower($1) and id <> $2', [edit.name, id]))
    throw taken(edit.name)
  const row = await q.row(
    `update named_link set name = $2, target = $3, actions = $4, changed_at = $5, changed_by = $6
     where id = $1 returning id`,
    [id, edit.name, JSON.stringify(edit.target), JSON.stringify(edit.actions), at, by],
  )
  if (!row) throw notFound('This link')
  await announce(q, 'pages')
}

/** @throws Problem 404, 409 while something leads by it, or mail that was sent */
export async function deleteNamedLink(q: Queries, id: number): Promise<void> {
  const link = await q.row<{ name: string }>('select name from named_link where id = $1 for update', [id])
  if (!link) throw notFound('This link')
  const places = (await usesOf(q, 'namedLink', [id])).get(id)
  if (places)
    throw new Problem(409, `“${link.name}” is in use`, `Take it out of these first: ${places.join(', ')}.`)
  await q.rows('delete from named_link where id = $1', [id])
  await announce(q, 'pages')
}

/**
 * Follows a named link of a page.
 * @param contact whoever came by a link of their own mail; null when nobody knows who it is
 * @returns where it leads @throws Problem 404 when it is gone, or leads nowhere
 */
export async function followNamedLink(
  platform: Platform,
  id: number,
  { contact, machine }: { contact: number | null; machine: boolean },
): Promise<string> {
  const address = await platform.database.inTransaction(async (tx) => {
    const link = await namedLink(tx, id)
    if (!link) return null
    const whose = contact === null ? undefined : await survivorOf(tx, contact, 'change')
    const at = whose ? personNow(platform.clock, whose) : platform.clock.now()
    await clickNamedLink(platform, tx, id, { contact: whose?.id ?? null, at, machine })
    await announce(tx, 'audience')
    return linkAddress(platform, tx, link.target, whose?.id ?? null, at)
  })
  if (address === null) throw notFound('This link')
  return address
}

/**
 * Writes down that a named link was followed, and does what the click does, once for a person. In the transaction of
 * `q`; the person has been locked.
 * @param click.contact null when nobody knows who it is
 */
export async function clickNamedLink(
  platform: Platform,
  q: Queries,
  id: number,
  { contact, at, machine = false }: { contact: number | null; at: Instant; machine?: boolean },
): Promise<void> {
  const link = await namedLink(q, id)
  if (!link) return
  await q.rows('insert into named_link_click (link_id, contact_id, machine, at) values ($1, $2, $3, $4)', [
    id,
    contact,
    machine,
    new Date(at),
  ])
  if (contact === null || machine) return
  const first =
    link.actions.length > 0 &&
    (await q.row(
      `insert into named_link_done (link_id, contact_id, at) values ($1, $2, $3)
       on conflict do nothing returning link_id`,
      [id, contact, new Date(at)],
    ))
  if (!first) return
  const by = `link “${link.name}”`
  const wording = `Clicked “${link.name}”`
  await applyActions(platform, q, link.actions, { contact, by, wording, at })
}
