import { createHash } from 'node:crypto'
import { pagesOf } from '../../core/funnels/funnel.ts'
import { emptyParts, wordsIn, type FunnelProgress } from '../../core/funnels/checklist.ts'
import type { Queries } from '../database/connect.ts'
import { listSenders } from '../email/senders.ts'
import { loadSite } from '../pages/site.ts'
import { readWritten, waitingIn, type Written } from './fileSlots.ts'
import { funnelById, type Funnel } from './funnels.ts'
import { formsOn, hangingBelow } from './hangingFollowups.ts'

/** Has somebody in rehearsal been on one of its pages, or sent one of its forms? */
async function isRehearsed(q: Queries, pages: readonly number[], forms: readonly number[]): Promise<boolean> {
  const found = await q.row(
    `select from activity join contact on contact.id = contact_id and rehearsal
     where kind = 'formSent' and (details->>'form')::bigint = any($1)
        or kind = 'pageVisited' and (details->>'page')::bigint = any($2) limit 1`,
    [forms, pages],
  )
  return found !== undefined
}

const hashOf = ({ content }: Written): string =>
  createHash('sha256').update(wordsIn(content.document)).digest('base64url').slice(0, 12)

/** The pages and emails of a funnel as they are written now, in the order of its line. */
async function readFunnel(q: Queries, { line, followups }: Funnel) {
  const ids = line.flatMap(pagesOf)
  const formsOf = await formsOn(q, ids)
  const below = (await hangingBelow(q, line, formsOf, followups)).all
  const emailIds = [...new Set(below.flatMap(({ emails }) => emails.map((email) => email.id)))]
  const inOrder = (wanted: readonly number[], rows: readonly Written[]): Written[] =>
    wanted.flatMap((each) => rows.filter(({ id }) => id === each))
  return {
    pages: inOrder(ids, await readWritten(q, 'page', ids)),
    emails: inOrder(emailIds, await readWritten(q, 'email', emailIds)),
    forms: [...new Set([...formsOf.values()].flat())],
  }
}

/** Remembers what a starter wrote, so that what somebody has written since can be told. */
export async function keepStarterWords(q: Queries, id: number): Promise<void> {
  const { pages, emails } = await readFunnel(q, await funnelById(q, id))
  const words = Object.fromEntries([
    ...pages.map((row): [string, string] => [`page ${row.id}`, hashOf(row)]),
    ...emails.map((row): [string, string] => [`email ${row.id}`, hashOf(row)]),
  ])
  await q.rows('update funnel set starter_words = $2 where id = $1', [id, JSON.stringify(words)])
}

/** How far a funnel is. @throws Problem 404 */
export async function progressOf(q: Queries, id: number): Promise<FunnelProgress> {
  const funnel = await funnelById(q, id)
  const { fileSlots, settings, state, starterWords } = funnel
  const { pages, emails, forms } = await readFunnel(q, funnel)
  const things = (kind: 'page' | 'email', rows: readonly Written[]): FunnelProgress['things'] =>
    rows.map((row) => ({
      kind,
      id: row.id,
      name: row.name,
      empty: emptyParts(row.content.document),
      touched: starterWords[`${kind} ${row.id}`] !== hashOf(row),
    }))
  const { business, settings: ofSite } = await loadSite(q)
  const senders = await listSenders(q)
  return {
    things: [...things('page', pages), ...things('email', emails)],
    fileChosen: fileSlots.length === 0 ? null : waitingIn(fileSlots, pages, emails).length === 0,
    senderConfirmed: senders.some(({ usual, confirmed }) => usual && confirmed),
    postalAddress: business.postalAddress.trim() !== '',
    domain: settings.domain !== null || ofSite.domains.length > 0,
    icon: (settings.icon ?? ofSite.favicon) !== null,
    countedByOthers: (settings.trackingScripts ?? ofSite.trackingScripts).length > 0,
    rehearsed: await isRehearsed(
      q,
      pages.map((row) => row.id),
      forms,
    ),
    live: state === 'live',
  }
}
