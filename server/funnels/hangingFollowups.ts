import type { HangingFollowup } from '../../contract/funnels.ts'
import type { FollowupState } from '../../contract/followups.ts'
import type { StartRule } from '../../core/followups/start.ts'
import type { Program } from '../../core/followups/program.ts'
import { pagesOf, type Station } from '../../core/funnels/funnel.ts'
import { consentsOf, formContent } from '../../core/capture/form.ts'
import { emailsOf } from '../../core/followups/step.ts'
import { loadNames } from '../audience/segments/names.ts'
import { sorterIds, type SorterKind } from './sortersOn.ts'
import type { Queries } from '../database/connect.ts'

interface Running {
  id: number
  name: string
  state: FollowupState
  program: Program
}

/** The forms that stand on each page, as it is live, or as it is written where it is not. */
export async function formsOn(q: Queries, pages: readonly number[]): Promise<Map<number, number[]>> {
  const rows = await q.rows<{ page: number; forms: number[] }>(
    `select page.id page, json_agg(distinct form::text::bigint) forms from page
     join lateral (select content from page_version where page_id = page.id
       order by number = published_version desc nulls last, number desc limit 1) shown on true
     cross join jsonb_path_query(content, '$.**.form ? (@.type() == "number")') form
     where page.id = any($1) group by 1`,
    [pages],
  )
  return new Map(rows.map(({ page, forms }) => [page, forms]))
}

/** What a form does with people that may start follow-ups. */
interface FormDoing {
  starts: ReadonlySet<number>
  tags: ReadonlySet<number>
  topics: ReadonlySet<number>
}

/** What each form does, as it is live, or as it is written where it is not. */
async function doingsOf(q: Queries, forms: readonly number[]): Promise<Map<number, FormDoing>> {
  const rows = await q.rows<{ form: number; content: unknown }>(
    `select distinct on (form.id) form.id form, content from form join form_version on form_id = form.id
     where form.id = any($1) order by form.id, number = published_version desc nulls last, number desc`,
    [forms],
  )
  return new Map(
    rows.map(({ form, content: stored }) => {
      const content = formContent.parse(stored)
      const { waitingTag, confirmedTag } = content.confirm
      const open = (id: number | null): number[] => (id === null ? [] : [id])
      return [
        form,
        {
          starts: new Set(
            content.actions.flatMap((each) => (each.does === 'startFollowup' ? open(each.followup) : [])),
          ),
          tags: new Set([
            ...content.actions.flatMap((each) => (each.does === 'addTag' ? open(each.tag) : [])),
            ...(content.confirm.when === 'never' ? [] : [waitingTag, confirmedTag].flatMap(open)),
          ]),
          topics: new Set(consentsOf(content).flatMap(({ topics }) => topics)),
        },
      ]
    }),
  )
}

/** How a follow-up begins on a page: with that page or a form on it by name, with something that others do too, or not. */
type Begins = 'byName' | 'withOthers' | 'no'

function beginsBy(
  rule: StartRule,
  page: number,
  forms: readonly number[],
  here: readonly FormDoing[],
): Begins {
  switch (rule.kind) {
    case 'formSent':
      if (rule.page !== undefined && rule.page !== page) return 'no'
      if (rule.form === undefined)
        return forms.length > 0 ? (rule.page === page ? 'byName' : 'withOthers') : 'no'
      return forms.includes(rule.form) ? 'byName' : 'no'
    case 'addressConfirmed':
      return rule.form !== undefined && forms.includes(rule.form) ? 'byName' : 'no'
    case 'pageVisited':
      return rule.page === page ? 'byName' : 'no'
    case 'tagAdded':
      return here.some(({ tags }) => tags.has(rule.tag)) ? 'withOthers' : 'no'
    case 'topicJoined':
      return here.some(({ topics }) => topics.has(rule.topic)) ? 'withOthers' : 'no'
    case 'tagRemoved':
    case 'topicLeft':
    case 'emailOpened':
    case 'emailClicked':
    case 'fileDownloaded':
    case 'quizFinished':
    case 'courseFinished':
    case 'quizLeft':
    case 'junctionPassed':
    case 'productBought':
    case 'orderRefunded':
    case 'checkoutLeft':
    case 'sessionRegistered':
    case 'sessionAttended':
    case 'sessionMissed':
    case 'bandReached':
    case 'fieldChanged':
    case 'imported':
    case 'eventReported':
    case 'dateComes':
    case 'segmentEntered':
      return 'no'
  }
}

/** Does a follow-up begin with what somebody does on a page? */
function begins(
  { id, program }: Running,
  page: number,
  forms: readonly number[],
  doings: ReadonlyMap<number, FormDoing>,
): Begins {
  const here = forms.flatMap((form) => doings.get(form) ?? [])
  if (here.some(({ starts }) => starts.has(id))) return 'byName'
  const all = program.startsWhen.map((rule) => beginsBy(rule, page, forms, here))
  return all.find((each) => each === 'byName') ?? all.find((each) => each === 'withOthers') ?? 'no'
}

/** A follow-up below a page. */
export interface Hanging extends HangingFollowup {
  /** It begins there by name, or belongs to the funnel: others may begin elsewhere too, and are not the funnel's. */
  own: boolean
}

/** What hangs below places of a line, with how many are inside and what they are sent. */
async function shownBelow<Place>(
  q: Queries,
  below: ReadonlyMap<Place, readonly { each: Running; own: boolean }[]>,
): Promise<Map<Place, Hanging[]>> {
  const hanging = [...new Set([...below.values()].flat().map(({ each }) => each))]
  // Only of those that hang here: there may be a million people inside of others.
  const counted = await q.rows<{ id: number; inside: number; due: Date | null }>(
    `select followup_id id, count(*)::int inside, min(wakes_at) due from enrolment
     join contact on contact.id = contact_id and not rehearsal
     where followup_id = any($1) and ended_at is null group by 1`,
    [hanging.map(({ id }) => id)],
  )
  const counts = new Map(counted.map((row) => [row.id, row]))
  const { emails } = await loadNames(
    q,
    hanging.flatMap(({ program }) => emailsOf(program).map((id) => ({ kind: 'emails' as const, id }))),
  )
  const shown = ({ each: { id, name, state, program }, own }: { each: Running; own: boolean }): Hanging => ({
    own,
    id,
    name,
    state,
    inside: counts.get(id)?.inside ?? 0,
    nextDueAt: counts.get(id)?.due?.toISOString() ?? null,
    emails: emailsOf(program).map((email) => ({ id: email, name: emails[email] ?? 'something deleted' })),
  })
  return new Map([...below].map(([place, these]) => [place, these.map(shown)]))
}

const readRunning = (q: Queries): Promise<Running[]> =>
  q.rows<Running>(`select id, name, state, program from followup where state <> 'archived' order by name, id`)

/** Does a rule let in who passes this quiz or junction? Naming it, it is theirs; else others start it too. */
function beginsAt(rule: Program['startsWhen'][number], { kind, id }: SorterPlace): Begins {
  if (kind === 'junction') {
    if (rule.kind !== 'junctionPassed') return 'no'
    return rule.junction === id ? 'byName' : rule.junction === undefined ? 'withOthers' : 'no'
  }
  if (rule.kind !== 'quizFinished' && rule.kind !== 'quizLeft') return 'no'
  return rule.quiz === id ? 'byName' : rule.quiz === undefined ? 'withOthers' : 'no'
}

/** A quiz or a junction on a line. */
interface SorterPlace {
  kind: SorterKind
  id: number
}

/** What hangs below the quizzes and junctions of a line, each under its kind and number. */
async function hangingBelowSorters(
  q: Queries,
  places: readonly SorterPlace[],
  belonging: readonly number[] = [],
): Promise<Map<string, Hanging[]>> {
  if (places.length === 0) return new Map()
  const all = await readRunning(q)
  const below = new Map(
    places.map((place): [string, { each: Running; own: boolean }[]] => [
      `${place.kind} ${place.id}`,
      all.flatMap((each) => {
        const ways = each.program.startsWhen.map((rule) => beginsAt(rule, place))
        if (ways.every((way) => way === 'no')) return []
        return [{ each, own: ways.includes('byName') || belonging.includes(each.id) }]
      }),
    ]),
  )
  return shownBelow(q, below)
}

/**
 * What hangs below each of these pages: the follow-ups that begin with a form on it, with what that does, or with a visit.
 * @param forms those that stand on each page
 * @param belonging follow-ups of the funnel that no page starts: they hang below its last page, unless a quiz or a
 *   junction of the line starts them
 * @param elsewhere those that one of these starts
 */
async function hangingFollowups(
  q: Queries,
  pages: readonly number[],
  forms: ReadonlyMap<number, readonly number[]>,
  belonging: readonly number[] = [],
  elsewhere: ReadonlySet<number> = new Set(),
): Promise<Map<number, Hanging[]>> {
  if (pages.length === 0) return new Map()
  const doings = await doingsOf(q, [...new Set([...forms.values()].flat())])
  const all = await readRunning(q)
  const below = new Map(
    pages.map((page): [number, { each: Running; own: boolean }[]] => [
      page,
      all.flatMap((each) => {
        const how = begins(each, page, forms.get(page) ?? [], doings)
        return how === 'no' ? [] : [{ each, own: how === 'byName' || belonging.includes(each.id) }]
      }),
    ]),
  )
  const started = new Set([...below.values()].flat().map(({ each }) => each.id))
  const others = all.filter(({ id }) => belonging.includes(id) && !started.has(id) && !elsewhere.has(id))
  const last = pages.at(-1)
  if (last !== undefined)
    below.set(last, [...(below.get(last) ?? []), ...others.map((each) => ({ each, own: true }))])
  return shownBelow(q, below)
}

/** What hangs below a line: its pages by number, its quizzes and junctions by kind and number. */
export async function hangingBelow(
  q: Queries,
  line: readonly Station[],
  forms: ReadonlyMap<number, readonly number[]>,
  belonging: readonly number[] = [],
): Promise<{ pages: Map<number, Hanging[]>; sorters: Map<string, Hanging[]>; all: Hanging[] }> {
  const places = (['quiz', 'junction'] as const).flatMap((kind) =>
    sorterIds(line, kind).map((id): SorterPlace => ({ kind, id })),
  )
  const sorters = await hangingBelowSorters(q, places, belonging)
  const elsewhere = new Set([...sorters.values()].flat().map(({ id }) => id))
  const pages = await hangingFollowups(q, line.flatMap(pagesOf), forms, belonging, elsewhere)
  return { pages, sorters, all: [...pages.values(), ...sorters.values()].flat() }
}
