import type { Vocabulary } from '../../../contract/audience/segments.ts'
import { condition, leavesOf, type Condition, type Leaf } from '../../../core/audience/segments/condition.ts'
import type { NamedKind } from '../../../core/audience/segments/names.ts'
import { activities } from './activities.ts'

/** What a line of a condition can be about, as the builder offers it. */
export interface Subject {
  id: string
  title: string
  /** The same, denied. */
  not: string
  group: 'Profile' | 'Activity' | 'Status'
  /** A new line about it. */
  leaf: (words: Vocabulary) => Leaf
}

/** Stands for no value in a test that has not been filled in yet: it is nobody's. */
export const none = '…'

/** The thing with the lowest id of a kind; null where there is none yet. */
export function firstOf({ names }: Vocabulary, kind: NamedKind): number | null {
  const [id] = Object.keys(names[kind])
  return id === undefined ? null : Number(id)
}

/** As `firstOf`; 0 is none, and shows as something to choose. */
const firstOrNone = (words: Vocabulary, kind: NamedKind): number => firstOf(words, kind) ?? 0

const firstBand = (words: Vocabulary): string =>
  words.scorecards[firstOrNone(words, 'scorecards')]?.bands.at(-1)?.id ?? 'none'

export const subjects: readonly Subject[] = [
  {
    id: 'hasTag',
    title: 'has the tag',
    not: 'does not have the tag',
    group: 'Profile',
    leaf: (words) => ({ kind: 'hasTag', tag: firstOrNone(words, 'tags') }),
  },
  {
    id: 'field',
    title: 'has the field',
    not: 'does not have the field',
    group: 'Profile',
    leaf: () => ({ kind: 'field', field: 'country', test: { test: 'isSet' } }),
  },
  {
    id: 'state',
    title: 'has the marketing status',
    not: 'does not have the marketing status',
    group: 'Profile',
    leaf: () => ({ kind: 'state', is: ['subscribed'] }),
  },
  {
    id: 'topic',
    title: 'agreed to the topic',
    not: 'did not agree to the topic',
    group: 'Profile',
    leaf: (words) => ({ kind: 'topic', topic: firstOrNone(words, 'topics') }),
  },
  {
    id: 'agreedTo',
    title: 'agreed to the wording of',
    not: 'did not agree to the wording of',
    group: 'Profile',
    leaf: (words) => ({ kind: 'agreedTo', wording: firstOrNone(words, 'wordings') }),
  },
  {
    id: 'created',
    title: 'joined',
    not: 'did not join',
    group: 'Profile',
    leaf: () => ({ kind: 'created', within: { kind: 'last', amount: 30, unit: 'days' } }),
  },
  {
    id: 'source',
    title: 'arrived by a link with',
    not: 'did not arrive by a link with',
    group: 'Profile',
    leaf: () => ({ kind: 'source', name: 'utm_source', test: { test: 'isSet' } }),
  },
  {
    id: 'band',
    title: 'is in the band',
    not: 'is not in the band',
    group: 'Status',
    leaf: (words) => ({ kind: 'band', scorecard: firstOrNone(words, 'scorecards'), band: firstBand(words) }),
  },
  {
    id: 'score',
    title: 'has a score',
    not: 'does not have a score',
    group: 'Status',
    leaf: (words) => ({ kind: 'score', scorecard: firstOrNone(words, 'scorecards'), atLeast: 10 }),
  },
  {
    id: 'followup',
    title: 'is in the follow-up',
    not: 'is not in the follow-up',
    group: 'Status',
    leaf: (words) => ({ kind: 'followup', followup: firstOrNone(words, 'followups'), is: 'inside' }),
  },
  {
    id: 'deadline',
    title: 'has the personal deadline',
    not: 'does not have the personal deadline',
    group: 'Status',
    leaf: ({ deadlines: [first = none] }) => ({ kind: 'deadline', deadline: first, is: 'running' }),
  },
  {
    id: 'segment',
    title: 'is in the segment',
    not: 'is not in the segment',
    group: 'Status',
    leaf: (words) => ({ kind: 'segment', segment: firstOrNone(words, 'segments') }),
  },
  ...activities.map(({ kind, title, not }): Subject => ({
    id: `did ${kind}`,
    title,
    not,
    group: 'Activity',
    leaf: () => ({ kind: 'did', activity: kind, details: {}, atLeast: 1 }),
  })),
]

/** The subjects as a list of choices by group, affirmed or denied. */
const choicesOf = (words: (subject: Subject) => string) =>
  (['Profile', 'Activity', 'Status'] as const).flatMap((group) => [
    { type: 'subheader' as const, title: group },
    ...subjects
      .filter((each) => each.group === group)
      .map((each) => ({ value: each.id, title: words(each) })),
  ])
export const affirmedChoices = choicesOf(({ title }) => title)
export const deniedChoices = choicesOf(({ not }) => not)

/** Which of the subjects a line is about. */
export const subjectOf = (leaf: Leaf): string => (leaf.kind === 'did' ? `did ${leaf.activity}` : leaf.kind)

/** Does every line say what it is about? One that does not yet is not asked about. */
export const isFilledIn = (tree: Condition): boolean =>
  leavesOf(tree).every((leaf) => condition.safeParse(leaf).success)

export type Group = Extract<Condition, { kind: 'all' | 'any' }>

export const isGroup = (tree: Condition): tree is Group => tree.kind === 'all' || tree.kind === 'any'

/** A part with its “not” taken off, and whether it had one. */
export function unwrap(part: Condition): { negated: boolean; inner: Exclude<Condition, { kind: 'not' }> } {
  let [negated, inner] = [false, part]
  while (inner.kind === 'not') [negated, inner] = [!negated, inner.of]
  return { negated, inner }
}

export const wrap = (negated: boolean, inner: Condition): Condition =>
  negated ? { kind: 'not', of: inner } : inner

/** Any condition as a group, which is what the builder shows at the top. */
export const asGroup = (tree: Condition | null): Group =>
  tree === null ? { kind: 'all', of: [] } : isGroup(tree) ? tree : { kind: 'all', of: [tree] }
