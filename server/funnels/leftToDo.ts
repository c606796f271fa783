import { pagesOf } from '../../core/funnels/funnel.ts'
import { leftToDo, type LeftToDo, type WrittenThing } from '../../core/funnels/leftToDo.ts'
import type { BlockDocument } from '../../core/blocks/document.ts'
import type { Queries } from '../database/connect.ts'
import { listSenders } from '../email/senders.ts'
import { loadSite } from '../pages/site.ts'
import { checkOf } from './checking.ts'
import { isFileMissing } from './fileSlots.ts'
import { funnelById } from './funnels.ts'
import { formsOn, hangingFollowups } from './hangingFollowups.ts'

interface Row {
  id: number
  name: string
  content: { document: BlockDocument }
  touched: boolean
}

const readThings = (q: Queries, table: 'page' | 'email', ids: readonly number[]): Promise<Row[]> =>
  q.rows<Row>(
    `select distinct on (id) id, name, content, number > 1 or revision > 1 touched
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

/** What is left to do until a funnel is live. @throws Problem 404 */
export async function leftToDoOf(q: Queries, id: number, at: Date): Promise<LeftToDo[]> {
  const { line, fileSlots, settings, state, followups, starter } = await funnelById(q, id)
  const ids = line.flatMap(pagesOf)
  const formsOf = await formsOn(q, ids)
  const below = [...(await hangingFollowups(q, ids, formsOf, followups)).values()].flat()
  const emailIds = [...new Set(below.flatMap(({ emails }) => emails.map((email) => email.id)))]
  const [pages, emails] = [await readThings(q, 'page', ids), await readThings(q, 'email', emailIds)]
  // Without a starter every word is somebody's own.
  const inOrder = (wanted: readonly number[], rows: readonly Row[], kind: 'page' | 'email'): WrittenThing[] =>
    wanted.flatMap((each) => {
      const row = rows.find((one) => one.id === each)
      return row
        ? [
            {
              kind,
              id: row.id,
              name: row.name,
              document: row.content.document,
              touched: row.touched || starter === null,
            },
          ]
        : []
    })
  const site = await loadSite(q)
  const senders = await listSenders(q)
  const findings = await checkOf(q, id, at)
  const scripts = settings.trackingScripts ?? site.settings.trackingScripts
  return leftToDo({
    id,
    things: [...inOrder(ids, pages, 'page'), ...inOrder(emailIds, emails, 'email')],
    fileChosen: fileSlots.length === 0 ? null : !isFileMissing(fileSlots, pages, emails),
    senderConfirmed: senders.some(({ usual, confirmed }) => usual && confirmed),
    postalAddress: site.business.postalAddress.trim() !== '',
    domain: settings.domain !== null || site.settings.domains.length > 0,
    icon: (settings.icon ?? site.settings.favicon) !== null,
    countedBy: scripts.length > 0 ? 'withConsent' : 'none',
    rehearsed: await isRehearsed(q, ids, [...new Set([...formsOf.values()].flat())]),
    errors: findings.filter(({ level }) => level === 'error').length,
    live: state === 'live',
  })
}
