import type { Names } from '../audience/segments/names.ts'
import type { Target } from '../blocks/target.ts'
import { walk } from '../blocks/walk.ts'
import type { FormContent } from '../capture/form.ts'
import type { Finding } from '../pages/findings.ts'
import type { PageContent, PagePurpose } from '../pages/page.ts'
import type { FunnelFinding, FunnelMend } from './finding.ts'

type State = 'draft' | 'live' | 'archived'

/** A page that stands on the line, with what stands on it. */
export interface CheckedPage {
  id: number
  name: string
  path: string
  purpose: PagePurpose
  state: State
  content: PageContent
  /** What its own check finds. */
  findings: readonly Finding[]
  /** Lessons of one course lead to each other by themselves. */
  course: number | null
  forms: readonly CheckedForm[]
  /** Where buyers go after paying, for each thing that its order forms sell. */
  afterOrder: readonly Target[]
  /** Follow-ups that a form on it starts by itself, or that begin with it. */
  followups: readonly CheckedFollowup[]
  /** Other funnels through it. */
  otherFunnels: readonly string[]
}

export interface CheckedForm {
  id: number
  name: string
  state: State
  content: FormContent
}

export interface CheckedFollowup {
  id: number
  name: string
  state: string
  /** Where the links of its emails lead. */
  leads: readonly Target[]
  /** It sends marketing, which nobody gets who has not agreed to it. */
  sendsMarketing: boolean
  /** It is the funnel's, not one that others start too. */
  own: boolean
}

/** A quiz or a junction on the line, with what its own check found. */
export interface CheckedSorter {
  kind: 'quiz' | 'junction'
  id: number
  state: 'draft' | 'live' | 'archived'
  findings: readonly { level: 'error' | 'advice'; words: string }[]
}

/** A station as it is checked; without its page where that was deleted, or is somebody else's. */
export interface CheckedStation {
  id: string
  title: string
  kind: 'page' | 'outside' | 'junction' | 'quiz'
  page: CheckedPage | null
  /** The quiz or junction that it is; null where that was deleted. */
  sorter?: CheckedSorter | null
  /** The other page that shares its visitors. */
  other?: CheckedPage | null
}

/** What a line is checked against. */
export interface FunnelSurroundings {
  /** Drafts on the line go live with it; once it is live they are faults. */
  isLive: boolean
  names: Names
  /** Seconds of the films among the files. */
  filmLengths: Readonly<Record<number, number>>
  /** Other funnels whose pages begin with the same path. */
  samePath: readonly string[]
  /** It is over, or will be, and nobody has said where visitors go then. */
  endsNowhere: boolean
  hasEnded: boolean
  /** Buttons that give the file of the funnel, and whether it is still to be chosen. */
  waitsForFile: ReadonlySet<string>
  fileIsMissing: boolean
  /** Marketing cannot go out without it. */
  postalAddress: string
  /** Whether buyers pay with money. */
  takes: 'test' | 'live'
  /** Pairs of the brand's colours that are hard to read, in words. */
  faint: readonly string[]
  now: number
}

/** Where a page is mended. */
export const placeOf = (page: CheckedPage): string => `/library/pages/${page.id}`

/** The pages of a station: two where they share its visitors. */
export const tracksOf = ({ page, other }: CheckedStation): CheckedPage[] =>
  [page, other].flatMap((each) => each ?? [])

/** The products that can be bought on a page by its order forms. */
export const soldBy = ({ content }: CheckedPage): ReadonlySet<number> =>
  new Set(
    [...walk(content.document)].flatMap(({ block }) =>
      block.kind === 'orderForm' ? block.offers.flatMap(({ product }) => product ?? []) : [],
    ),
  )

/** Notes what the check finds. */
export type Say = (level: FunnelFinding['level'], words: string, part?: string, mend?: FunnelMend) => void
