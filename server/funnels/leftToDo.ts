import { createHash } from 'node:crypto'
import { pagesOf } from '../../core/funnels/funnel.ts'
import { leftToDo, wordsIn, type LeftToDo, type WrittenThing } from '../../core/funnels/leftToDo.ts'
import type { BlockDocument } from '../../core/blocks/document.ts'
import type { Queries } from '../database/connect.ts'
import { listSenders } from '../email/senders.ts'
import { loadSite } from '../pages/site.ts'
import { checkOf } from './checking.ts'
import { isFileMissing } from './fileSlots.ts'
import { funnelById, type Funnel } from './funnels.ts'
import { formsOn, hangingFollowups } from './hangingFollowups.ts'

interface Row {
  id: number
  name: string
  content: { document: BlockDocument }
}

const readThings = (q: Queries, table: 'page' | 'email', ids: readonly number[]): Promise<Row[]> =>
  q.rows<Row>(
    `select distinct on (id) id, name, content
     from ${table} join ${table}_version on ${table}_id = id where id = any($1) order by id, number desc`,
    [ids],
  )

/** Has somebody in rehearsal been on one of its pages, or sent one of its forms? */
async function isRehearsed(q: Queries, pages: readonly number[], forms: readonly number[]): Promise<boolean> {
  const found = await q.row(
    `select from activity join contact on contact.id = contact_id and rehearsal
     where (kind = 'formSent' and (details->>'form')::bigint = any($1))
        or (kind = 'pageVisited' and (details->>'page')::bigint = any($2)) limit 1`,
    [forms, pages],
  )
  return found !== undefined
}

const hashOf = ({ content }: Row): string =>
  createHash('sha256').update(wordsIn(content.document)).digest('base64url').slice(0, 12)

/** The pages and emails of a funnel as they are written now, in the order of its line. */
async function readWritten(q: Queries, { line, followups }: Funnel) {
  const ids = line.flatMap(pagesOf)
  const formsOf = await formsOn(q, ids)
  const below = [...(await hangingFollowups(q, ids, formsOf, followups)).values()].flat()
  const emailIds = [...new Set(below.flatMap(({ emails }) => emails.map((email) => email.id)))]
  const inOrder = (wanted: readonly number[], rows: readonly Row[]): Row[] =>
    wanted.flatMap((each) => rows.filter(({ id }) => id === each))
  return {
    pages: inOrder(ids, await readThings(q, 'page', ids)),
    emails: inOrder(emailIds, await readThings(q, 'email', emailIds)),
    forms: [...new Set([...formsOf.values()].flat())],
  }
}

/** Remembers what a starter wrote, so that what somebody has written since can be told. */
export async function keepStarterWords(q: Queries, id: number): Promise<void> {
  const { pages, emails } = await readWritten(q, await funnelById(q, id))
  const words = Object.fromEntries([
    ...pages.map((row): [string, string] => [`page ${row.id}`, hashOf(row)]),
    ...emails.map((row): [string, string] => [`email ${row.id}`, hashOf(row)]),
  ])
  await q.rows('update funnel set starter_words = $2 where id = $1', [id, JSON.stringify(words)])
}

/** What is left to do until a funnel is live. @throws Problem 404 */
export async function leftToDoOf(q: Queries, id: number, at: Date): Promise<LeftToDo[]> {
  const funnel = await funnelById(q, id)
  const { fileSlots, settings, state, starterWords } = funnel
  const { pages, emails, forms } = await readWritten(q, funnel)
  const things = (kind: 'page' | 'email', rows: readonly Row[]): WrittenThing[] =>
    rows.map((row) => ({
      kind,
      id: row.id,
      name: row.name,
      document: row.content.document,
      touched: starterWords[`${kind} ${row.id}`] !== hashOf(row),
    }))
  const site = await loadSite(q)
  const senders = await listSenders(q)
  const findings = await checkOf(q, id, at)
  const scripts = settings.trackingScripts ?? site.settings.trackingScripts
  return leftToDo({
    id,
    things: [...things('page', pages), ...things('email', emails)],
    fileChosen: fileSlots.length === 0 ? null : !isFileMissing(fileSlots, pages, emails),
    senderConfirmed: senders.some(({ usual, confirmed }) => usual && confirmed),
    postalAddress: site.business.postalAddress.trim() !== '',
    domain: settings.domain !== null || site.settings.domains.length > 0,
    icon: (settings.icon ?? site.settings.favicon) !== null,
    countedBy: scripts.length > 0 ? 'withConsent' : 'none',
    rehearsed: await isRehearsed(
      q,
      pages.map((row) => row.id),
      forms,
    ),
    errors: findings.filter(({ level }) => level === 'error').length,
    live: state === 'live',
  })
}
