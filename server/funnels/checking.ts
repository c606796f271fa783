import type { Target } from '../../core/blocks/target.ts'
import { documentLinks, walk } from '../../core/blocks/walk.ts'
import type {
  CheckedForm,
  CheckedPage,
  CheckedSorter,
  CheckedStation,
} from '../../core/funnels/checkedLine.ts'
import { checkFunnel } from '../../core/funnels/departureCheck.ts'
import type { FunnelFinding } from '../../core/funnels/finding.ts'
import { pagesOf } from '../../core/funnels/funnel.ts'
import { mendOfBlock } from '../../core/funnels/mending.ts'
import { openness } from '../../core/funnels/settings.ts'
import { findingsOfForm } from '../../core/capture/formFindings.ts'
import type { Finding as FollowupFinding } from '../../core/followups/finding.ts'
import { placeOf } from '../../core/commerce/delivery.ts'
import type { ProductContent } from '../../core/commerce/product.ts'
import { findingsOf } from '../../core/pages/findings.ts'
import type { PageContent, PagePurpose } from '../../core/pages/page.ts'
import { loadAllNames } from '../audience/segments/names.ts'
import { loadFormSurroundings } from '../capture/formDrafts.ts'
import type { Queries } from '../database/connect.ts'
import { checkEmails, type EmailCheck } from '../email/emailDrafts.ts'
import { findingsOfFollowups } from '../followups/followupDrafts.ts'
import { Problem } from '../http/problems.ts'
import { checkJunction } from '../junctions/junctionDrafts.ts'
import { checkQuiz } from '../quizzes/quizDrafts.ts'
import { loadSite } from '../pages/site.ts'
import { surroundingsOf } from '../pages/surroundings.ts'
import { funnelById, type Funnel } from './funnels.ts'
import { waitingIn } from './fileSlots.ts'
import { findingsOfProducts, soldProducts } from './soldProducts.ts'
import { formsOfQuizzes, sortersOn, type SorterKind } from './sortersOn.ts'
import { formsOn, hangingBelow } from './hangingFollowups.ts'

interface PageRow {
  id: number
  name: string
  path: string
  purpose: PagePurpose
  state: CheckedPage['state']
  course: number | null
  others: string[]
  content: PageContent
}

const state = (table: string): string =>
  `case when ${table}.archived_at is not null then 'archived' when ${table}.published_version is null then 'draft' else 'live' end`

/** Pages as they are written now. */
const readPages = (q: Queries, pages: readonly number[], funnel: number): Promise<PageRow[]> =>
  q.rows<PageRow>(
    `select distinct on (page.id) page.id, page.name, path, purpose, course_id course, content, ${state('page')} state,
       array(select other.name from funnel other where other.id <> $2 and other.archived_at is null and other.live_at is not null
         and jsonb_path_exists(other.stations, '$.**.page ? (@ == $$page)', jsonb_build_object('page', page.id))
         order by 1) others
     from page join page_version on page_id = page.id where page.id = any($1) order by page.id, number desc`,
    [pages, funnel],
  )

const readForms = (q: Queries, forms: readonly number[]): Promise<CheckedForm[]> =>
  q.rows<CheckedForm>(
    `select distinct on (form.id) form.id, form.name, content, ${state('form')} state
     from form join form_version on form_id = form.id where form.id = any($1) order by form.id, number desc`,
    [forms],
  )

/** What is wrong with a follow-up; its emails are checked by themselves. */
const ofFollowup = (
  { id, name }: { id: number; name: string },
  findings: readonly FollowupFinding[],
): FunnelFinding[] =>
  findings.map(({ level, words, part, mend }) => ({
    level,
    words: `“${name}”: ${words}`,
    part: `/follow-ups/${id}${part === null ? '' : `?step=${encodeURIComponent(part)}`}`,
    ...(mend && { mend: { does: 'inFollowup', followup: id, mend } as const }),
  }))

/** What keeps an email from going out, but for the button that waits for the file. */
function ofEmail(
  { id, content, errors }: EmailCheck,
  name: string,
  waits: ReadonlySet<string>,
): FunnelFinding[] {
  const blocks = new Map([...walk(content.document)].map(({ block }) => [block.id, block]))
  return errors.flatMap(({ words, part }): FunnelFinding[] => {
    const block = part === null ? undefined : blocks.get(part)
    if (block && waits.has(block.id)) return []
    const mend = block && mendOfBlock(block, { in: 'email', id }, false)
    return [
      {
        level: 'error',
        words: `“${name}”: ${words}`,
        part: `/library/emails/${id}${part === null ? '' : `?part=${part}`}`,
        ...(mend && { mend }),
      },
    ]
  })
}

const ofForm = (
  { id, name }: CheckedForm,
  findings: readonly { level: 'error' | 'advice'; words: string }[],
): FunnelFinding[] =>
  findings.map(({ level, words }) => ({
    level,
    words: `“${name}”: ${words}`,
    part: `/library/forms/${id}`,
  }))

/** The pages of the line that a product opens, by itself or as lessons of a course. */
function openedBy({ brings, prices }: ProductContent, rows: readonly PageRow[]): Target[] {
  const opened = [...brings, ...prices.flatMap((price) => price.brings)].flatMap((each) => {
    const place = placeOf(each)
    if (place && 'page' in place) return [place.page]
    return place && 'course' in place
      ? rows.filter(({ course }) => course === place.course).map(({ id }) => id)
      : []
  })
  return opened.map((page) => ({ to: 'page', page }))
}

/** Where buyers go after paying, for each thing that a page sells: on, and to what they bought. */
const afterOrder = (
  contents: ReadonlyMap<number, ProductContent>,
  rows: readonly PageRow[],
  { document }: PageContent,
): Target[] =>
  [...walk(document)].flatMap(({ block }) => {
    const opened = ({ product }: { product: number | null }): Target[] => {
      const content = contents.get(product ?? 0)
      return content ? openedBy(content, rows) : []
    }
    if (block.kind === 'nextOffer') return opened(block.offer)
    if (block.kind !== 'orderForm') return []
    return block.offers.flatMap((offer): Target[] => {
      const after = contents.get(offer.product ?? 0)?.after
      return [after && after.to !== 'nowhere' ? after : { to: 'nextStep' }, ...opened(offer)]
    })
  })

/** Everything that a funnel's check finds, errors first, whatever was accepted of it. */
async function findAll(q: Queries, funnel: Funnel, at: Date): Promise<FunnelFinding[]> {
  const { id, line, settings, followups, fileSlots } = funnel
  const isLive = funnel.state === 'live'
  const ids = line.flatMap(pagesOf)
  const rows = await readPages(q, ids, id)
  const formsOf = await formsOn(q, ids)
  const hanging = await hangingBelow(q, line, formsOf, followups)
  const below = [...new Map(hanging.all.map((each) => [each.id, each])).values()]
  const emailNames = new Map(below.flatMap((each) => each.emails).map((email) => [email.id, email.name]))
  const site = await loadSite(q)
  const emails = await checkEmails(q, [...emailNames.keys()], at, site)
  const written = new Map(emails.map((email) => [email.id, email]))
  const forms = new Map(
    (
      await readForms(q, [...new Set([...[...formsOf.values()].flat(), ...(await formsOfQuizzes(q, line))])])
    ).map((form) => [form.id, form]),
  )

  // What goes live with the funnel counts as live before.
  const goesLive = (each: { state: string }): boolean => !isLive && each.state === 'draft'
  const now = await surroundingsOf(q, at, site)
  const livePages = new Set([...now.livePages, ...rows.filter(goesLive).map((row) => row.id)])
  const liveForms = new Set([
    ...now.liveForms,
    ...[...forms.values()].filter(goesLive).map((form) => form.id),
  ])
  const onLine = await sortersOn(q, line, at)
  const goingLive = (kind: SorterKind): number[] =>
    [...onLine.values()].filter((each) => each.kind === kind && goesLive(each)).map((each) => each.id)
  const liveJunctions = new Set([...now.liveJunctions, ...goingLive('junction')])
  const liveQuizzes = new Set([...now.liveQuizzes, ...goingLive('quiz')])
  const sold = await soldProducts(q, ids)
  const products = new Map([
    ...now.products,
    ...sold
      .filter(({ onSale }) => !isLive && !onSale)
      .map(
        ({ id: product, content }) => [product, new Set(content.prices.map((price) => price.id))] as const,
      ),
  ])
  const around = { ...now, products, livePages, liveForms, liveJunctions, liveQuizzes }
  const sorters = new Map<string, CheckedSorter & { name: string }>()
  for (const [key, { kind, id: sorter, name, state: is }] of onLine)
    sorters.set(key, {
      kind,
      id: sorter,
      name,
      state: is,
      findings:
        kind === 'quiz' ? await checkQuiz(q, sorter, around) : await checkJunction(q, sorter, livePages),
    })
  const own: FunnelFinding[] = isLive ? [] : await findingsOfProducts(q, sold, livePages, at)
  const aroundForms = { ...(await loadFormSurroundings(q)), livePages, liveJunctions }
  for (const form of forms.values()) own.push(...ofForm(form, findingsOfForm(form.content, aroundForms)))
  for (const [followup, findings] of await findingsOfFollowups(
    q,
    below.map((each) => each.id),
    at,
    emails.map((email) => ({ ...email, errors: [], state: goesLive(email) ? 'live' : email.state })),
  )) {
    const name = below.find((each) => each.id === followup)?.name ?? ''
    own.push(...ofFollowup({ id: followup, name }, findings))
  }
  const waits = new Set(fileSlots.map(({ block }) => block))
  for (const email of emails) own.push(...ofEmail(email, emailNames.get(email.id) ?? '', waits))
  const contents = new Map(sold.map((each) => [each.id, each.content]))
  const pages = new Map(
    rows.map(({ others, ...row }): [number, CheckedPage] => [
      row.id,
      {
        ...row,
        otherFunnels: others,
        findings: findingsOf(row.content, row.purpose, around),
        forms: (formsOf.get(row.id) ?? []).flatMap((form) => forms.get(form) ?? []),
        afterOrder: afterOrder(contents, rows, row.content),
        followups: (hanging.pages.get(row.id) ?? []).map(({ emails: sent, ...each }) => ({
          ...each,
          leads: sent.flatMap((email) =>
            documentLinks(written.get(email.id)?.content.document ?? { sections: [] }).map(
              ({ target }) => target,
            ),
          ),
          sendsMarketing: sent.some((email) => written.get(email.id)?.content.purpose === 'marketing'),
        })),
      },
    ]),
  )
  const stations = line.map((each): CheckedStation => {
    if (each.kind === 'outside') return { id: each.id, title: each.name, kind: 'outside', page: null }
    if (each.kind === 'junction' || each.kind === 'quiz') {
      const of = each.kind === 'quiz' ? each.quiz : each.junction
      const sorter = sorters.get(`${each.kind} ${of}`) ?? null
      return { id: each.id, title: sorter?.name ?? '', kind: each.kind, page: null, sorter }
    }
    const page = pages.get(each.page) ?? null
    const other = each.other && { other: pages.get(each.other.page) ?? null }
    return { id: each.id, title: page?.name ?? '', kind: 'page', page, ...other }
  })
  const samePath = await q.rows<{ name: string }>(
    `select name from funnel where settings->>'path' = $1 and id <> $2 and archived_at is null order by name`,
    [settings.path, id],
  )
  const films = await q.rows<{ id: number; seconds: number }>(
    `select file_id id, seconds from file join file_version on file_id = file.id and number = version
     where seconds is not null`,
  )
  const opens = openness(settings, at.getTime())
  const found = checkFunnel(stations, {
    isLive,
    names: await loadAllNames(q),
    filmLengths: Object.fromEntries(films.map((each) => [each.id, each.seconds])),
    samePath: samePath.map(({ name }) => name),
    endsNowhere:
      (settings.startsAt !== null && settings.before.to === 'nowhere') ||
      (settings.endsAt !== null && settings.after.to === 'nowhere'),
    hasEnded: isLive && opens === 'after',
    waitsForFile: waits,
    fileIsMissing: waitingIn(fileSlots, rows, emails).length > 0,
    postalAddress: site.business.postalAddress,
    takes: site.selling.takes,
    faint: around.faint,
    now: at.getTime(),
  })
  return [...found, ...own].sort((a, b) => Number(a.level === 'advice') - Number(b.level === 'advice'))
}

/** Everything that a funnel's check finds, errors first; what somebody has accepted says by whom and why. @throws Problem 404 */
export async function checkOf(q: Queries, id: number, at: Date) {
  const funnel = await funnelById(q, id)
  const accepted = new Map(funnel.accepted.map((each) => [each.words, each]))
  const found = await findAll(q, funnel, at)
  return found.map((finding) => ({
    ...finding,
    accepted: finding.level === 'advice' ? (accepted.get(finding.words) ?? null) : null,
  }))
}

/** @throws Problem 409 with what keeps a funnel from going live */
export async function refuseFaulty(q: Queries, id: number, at: Date): Promise<void> {
  const errors = (await findAll(q, await funnelById(q, id), at)).filter(({ level }) => level === 'error')
  if (errors.length > 0)
    throw new Problem(409, 'This funnel is not ready', `${errors.map(({ words }) => words).join('. ')}.`)
}

/** How long what was found of a live funnel is good for, before it is looked at again (ms). */
const lasts = 10 * 60_000

/** Looks at every live funnel again whose last look is long ago: the work of the job `checkFunnels`. */
export async function checkLiveFunnels(q: Queries, at: Date): Promise<void> {
  const due = await q.rows<{ id: number }>(
    `select id from funnel where live_at is not null and archived_at is null
       and (checked_at is null or checked_at < $1) order by id`,
    [new Date(at.getTime() - lasts)],
  )
  for (const { id } of due) {
    const errors = (await checkOf(q, id, at)).filter(({ level }) => level === 'error')
    await q.rows('update funnel set faults = $2, checked_at = $3 where id = $1', [id, errors.length, at])
  }
}
