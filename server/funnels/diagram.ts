import type { FunnelView, StationView } from '../../contract/funnels.ts'
import type { ThingState } from '../../contract/drafts.ts'
import { pagesOf } from '../../core/funnels/funnel.ts'
import { readStretches } from '../../core/funnels/stretches.ts'
import type { PagePurpose } from '../../core/pages/page.ts'
import type { Queries } from '../database/connect.ts'
import { previewPath } from '../pages/previews.ts'
import type { Platform } from '../platform.ts'
import { funnelById, type Funnel } from './funnels.ts'
import { sortersOn } from './sortersOn.ts'
import { formsOn, hangingBelow } from './hangingFollowups.ts'
import { countVisits } from './visitCounts.ts'

const day = 86_400_000

interface PageRow {
  id: number
  name: string
  path: string
  purpose: PagePurpose
  state: ThingState
  contacts: number | null
}

/** The pages of a line, and whom their forms took in since a moment. Rehearsal is nobody. */
function readPages(q: Queries, pages: readonly number[], since: Date): Promise<PageRow[]> {
  return q.rows<PageRow>(
    `with sent as (
       select (details->>'page')::bigint page_id, count(distinct contact_id)::int contacts from activity
       where kind = 'formSent' and at >= $2 and (details->>'page')::bigint = any($1)
         and contact_id not in (select id from contact where rehearsal) group by 1)
     select page.id, name, path, purpose,
       case when archived_at is not null then 'archived' when published_version is null then 'draft' else 'live' end state,
       case when jsonb_path_exists(shown.content, '$.document.sections[*].columns[*].blocks[*] ? (@.kind == "form")')
         then coalesce(contacts, 0) end contacts
     from page join lateral (select content from page_version where page_id = page.id
       order by number = published_version desc nulls last, number desc limit 1) shown on true
     left join sent on sent.page_id = page.id
     where page.id = any($1)`,
    [pages, since],
  )
}

/** Since when a funnel's numbers are counted. */
const countedFrom = ({ countedSince }: Pick<Funnel, 'countedSince'>, now: number, days: number): Date =>
  new Date(Math.max(now - days * day, countedSince?.getTime() ?? 0))

type Track = Omit<StationView, 'id' | 'other' | 'followups'>

const gone: Track = {
  title: 'a page that was deleted',
  state: 'gone',
  url: null,
  visitors: 0,
  contacts: null,
  preview: null,
  page: null,
  junction: null,
  quiz: null,
  purpose: null,
}

/** A funnel as its diagram shows it, with the numbers of the last days. @throws Problem 404 */
export async function viewFunnel(platform: Platform, id: number, days: number): Promise<FunnelView> {
  const { database: q, clock, settings } = platform
  const funnel = await funnelById(q, id)
  const {
    name,
    goal,
    labels,
    settings: ofFunnel,
    state,
    revision,
    changedBy,
    line,
    changedAt,
    countedSince,
    followups,
  } = funnel
  const since = countedFrom(funnel, clock.now(), days)
  const ids = line.flatMap(pagesOf)
  // What is elsewhere counts nobody: the line is read from one of our own stations to the next.
  const own = line.map(pagesOf).filter((each) => each.length > 0)
  const [read, { visitors, passages }, hanging] = await Promise.all([
    readPages(q, ids, since),
    countVisits(q, own, since),
    formsOn(q, ids).then((forms) => hangingBelow(q, line, forms, followups)),
  ])
  const pages = new Map(read.map((page) => [page.id, page]))
  const track = (id: number): Track => {
    const page = pages.get(id)
    if (!page) return gone
    const { name, path, purpose, state, contacts } = page
    return {
      title: name,
      purpose,
      state,
      page: page.id,
      junction: null,
      quiz: null,
      url: `${settings.publicUrl}/p/${path}`,
      preview: previewPath(platform, page.id),
      visitors: visitors.get(id) ?? 0,
      contacts,
    }
  }
  const sorters = await sortersOn(q, line, since)
  const stations = line.map((each): StationView => {
    if (each.kind === 'outside')
      return {
        ...gone,
        id: each.id,
        title: each.name,
        state: 'outside',
        url: each.url,
        other: null,
        followups: [],
      }
    if (each.kind === 'junction' || each.kind === 'quiz') {
      const id = each.kind === 'quiz' ? each.quiz : each.junction
      const sorter = sorters.get(`${each.kind} ${id}`)
      return {
        ...gone,
        title: `a ${each.kind} that was deleted`,
        ...(sorter && {
          title: sorter.name,
          state: sorter.state,
          url: `${settings.publicUrl}${sorter.path}`,
          visitors: sorter.passed,
        }),
        id: each.id,
        [each.kind]: id,
        other: null,
        followups: (hanging.sorters.get(`${each.kind} ${id}`) ?? []).map(({ own: _, ...shown }) => shown),
      }
    }
    const below = new Map(
      pagesOf(each)
        .flatMap((page) => hanging.pages.get(page) ?? [])
        .map((one) => [one.id, one]),
    )
    return {
      ...track(each.page),
      id: each.id,
      other: each.other ? { ...track(each.other.page), share: each.other.share } : null,
      followups: [...below.values()].map(({ own: _, ...shown }) => shown),
    }
  })
  return {
    id,
    name,
    goal,
    labels,
    settings: ofFunnel,
    state,
    revision,
    changedBy,
    rehearsing: funnel.rehearsalPages.length > 0,
    line,
    changedAt: changedAt.toISOString(),
    countedSince: countedSince?.toISOString() ?? null,
    stations,
    stretches: readStretches(passages).map(({ share, ...rest }, i) => ({
      here: passages[i]?.here ?? 0,
      there: passages[i]?.there ?? 0,
      rate: share.rate,
      low: share.low,
      high: share.high,
      ...rest,
    })),
  }
}
