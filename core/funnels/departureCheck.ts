import type { Target } from '../blocks/target.ts'
import { documentLinks } from '../blocks/walk.ts'
import { fieldsOf, type FormContent } from '../capture/form.ts'
import { purposes, type PageContent, type PagePurpose } from '../pages/page.ts'

/** A page that stands on the line, with what stands on it. */
export interface CheckedPage {
  id: number
  name: string
  path: string
  purpose: PagePurpose
  live: boolean
  content: PageContent
  /** Lessons of one course lead to each other by themselves. */
  course: number | null
  forms: readonly CheckedForm[]
  /** Follow-ups that a form on it starts by itself, or that begin with it. */
  followups: readonly CheckedFollowup[]
  /** Other funnels through it. */
  otherFunnels: readonly string[]
}

export interface CheckedForm {
  id: number
  name: string
  content: FormContent
}

interface CheckedFollowup {
  id: number
  name: string
  state: string
  /** Where the links of its emails lead. */
  leads: readonly Target[]
}

/** A station as it is checked; without its page where that was deleted, or is somebody else's. */
export interface CheckedStation {
  id: string
  title: string
  kind: 'page' | 'outside'
  page: CheckedPage | null
}

/** Something about a whole funnel that would go wrong, or could be better; `part` is where to go to mend it. */
export interface FunnelFinding {
  level: 'error' | 'advice'
  words: string
  part: string | null
}

/** A form longer than this keeps people from sending it (common practice). */
const fewFields = 3

const placeOf = (page: CheckedPage): string => `/library/pages/${page.id}`

/** Where everything on a page leads that is pressed or sent. */
const leadsFrom = (page: CheckedPage): Target[] =>
  [
    ...documentLinks(page.content.document).map(({ target }) => target),
    ...page.forms.flatMap(({ content: { after, confirm } }) => [
      ...(after.then === 'message' ? [] : [after.target]),
      ...(confirm.when === 'never' ? [] : [confirm.next]),
    ]),
  ].filter(({ to }) => to !== 'nowhere')

const isSameCourse = (page: CheckedPage, other: CheckedPage | null | undefined): boolean =>
  page.course !== null && page.course === other?.course

const leadsTo = (target: Target, page: CheckedPage): boolean =>
  (target.to === 'page' && target.page === page.id) ||
  (target.to === 'path' && target.path.split(/[?#]/)[0] === `/p/${page.path}`)

/** Can anybody come from one of the stations before to this one, or by an email that begins there? */
function isReached(line: readonly CheckedStation[], place: number): boolean {
  const here = line[place]
  return line.slice(0, place).some(({ page }, i) => {
    if (page === null) return true
    const leads = leadsFrom(page)
    if (leads.some(({ to }) => to === 'nextStep') && i === place - 1) return true
    if (here?.kind === 'outside') return leads.some(({ to }) => to === 'web')
    if (!here?.page) return true
    const target = here.page
    if (isSameCourse(page, target)) return true
    return [...leads, ...page.followups.flatMap((each) => each.leads)].some((each) => leadsTo(each, target))
  })
}

function findingsOfPage(page: CheckedPage): FunnelFinding[] {
  const found: FunnelFinding[] = []
  const say = (level: FunnelFinding['level'], words: string, part: string = placeOf(page)): void => {
    found.push({ level, words, part })
  }
  if (!page.live) say('error', `“${page.name}” is not live: publish it first`)
  if (!purposes[page.purpose].listed && page.content.listed)
    say(
      'error',
      `“${page.name}” is a ${purposes[page.purpose].name}, and search engines may list it: turn that off`,
    )
  for (const { id, name, content } of page.forms) {
    const asked = fieldsOf(content).filter(({ asks }) => asks !== 'consent' && asks !== 'hidden').length
    if (asked > fewFields)
      say(
        'advice',
        `“${name}” asks for ${asked} things: with more than three, fewer people send it`,
        `/library/forms/${id}`,
      )
  }
  for (const { id, name, state } of page.followups)
    if (state === 'draft')
      say('error', `“${name}” begins here and is not live: nobody would get its emails`, `/follow-ups/${id}`)
    else if (state === 'paused') say('advice', `“${name}” begins here and is paused`, `/follow-ups/${id}`)
  for (const other of page.otherFunnels)
    say('advice', `“${page.name}” stands in “${other}” too: its next step can be only one of the two`)
  return found
}

/**
 * What keeps a funnel from leading its visitors from the first station to the last. What is wrong with a page, a form,
 * an email or a follow-up by itself is found by their own checks.
 */
export function checkFunnel(line: readonly CheckedStation[]): FunnelFinding[] {
  if (line.length === 0)
    return [
      { level: 'error', words: 'There is no step yet: add the page that people come to first', part: null },
    ]
  return line.flatMap(({ title, kind, page }, i): FunnelFinding[] => {
    if (kind === 'page' && page === null)
      return [
        {
          level: 'error',
          words: `Step ${i + 1} was deleted: take it out, or put another page there`,
          part: null,
        },
      ]
    const found = page ? findingsOfPage(page) : []
    if (i > 0 && !isReached(line, i))
      found.push({
        level: 'error',
        words: `Nobody gets to “${title}”: no step before it, and no email, leads there`,
        part: page ? placeOf(page) : null,
      })
    const leadsOn =
      page === null ||
      i === line.length - 1 ||
      leadsFrom(page).length > 0 ||
      page.followups.length > 0 ||
      isSameCourse(page, line[i + 1]?.page)
    if (!leadsOn)
      found.push({
        level: 'advice',
        words: `“${title}” leads nowhere: add a button to the next step`,
        part: placeOf(page),
      })
    return found
  })
}
