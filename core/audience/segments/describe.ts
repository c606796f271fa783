import type { DeadlineState } from '../../commerce/deadlineState.ts'
import type { ActivityKind } from '../people/activity.ts'
import { isLeaf, type BuiltInField, type Condition, type FieldTest, type Leaf } from './condition.ts'
import { choiceName, nameOf, type NamedKind, type Names } from './names.ts'
import { marketingStateWords } from '../people/permission.ts'
import type { Scorecard } from '../scores/scorecard.ts'
import type { Within } from './within.ts'

type Say = (details: Record<string, unknown>, names: Names) => string

/** With the name of the thing, or in the words for any of its kind. */
const named =
  (verb: string, kind: NamedKind, detail: string, any: string): Say =>
  (details, names) =>
    typeof details[detail] === 'number' ? `${verb} ${nameOf(names, kind, details[detail])}` : any

const word =
  (verb: string, detail: string): Say =>
  (details) =>
    typeof details[detail] === 'string' ? `${verb} “${details[detail]}”` : verb

const band =
  (verb: string): Say =>
  ({ name, scorecard }, names) => {
    const of = typeof scorecard === 'number' ? ` of ${nameOf(names, 'scorecards', scorecard)}` : ''
    return typeof name === 'string' ? `${verb} the band “${name}”${of}` : `${verb} any band${of}`
  }

/** What a part of a thing is called: a result or an answer of a quiz, a rule of a junction, a price of a product. */
const partName = (
  names: Names,
  part: 'result' | 'answer' | 'rule' | 'price',
  of: unknown,
  id: unknown,
): string => names.choices?.[`${part} ${String(of)} ${String(id)}`] ?? String(id)

/** The price is told where one asks for it: what was bought tells how much was paid. */
const atPrice =
  (say: Say): Say =>
  (details, names) =>
    say(details, names) +
    (typeof details.price === 'string' && details.amount === undefined
      ? ` at the price “${partName(names, 'price', details.product, details.price)}”`
      : '')

/** How an activity reads in a sentence about a person. */
const verbs: Readonly<Record<ActivityKind, Say>> = {
  contactAdded: () => 'joined the list',
  contactChanged: () => 'was edited',
  contactMerged: word('was merged with', 'address'),
  consentGiven: () => 'gave consent',
  topicJoined: named('joined the topic', 'topics', 'topic', 'joined any topic'),
  topicLeft: named('left the topic', 'topics', 'topic', 'left any topic'),
  addressConfirmed: () => 'confirmed the address',
  confirmationAsked: named(
    'was asked by email to confirm the form',
    'forms',
    'form',
    'was asked by email to confirm',
  ),
  addressTaken: word('asked to use another person’s address,', 'address'),
  mailPaused: () => 'paused all email',
  formSent: (details, names) =>
    named('submitted the form', 'forms', 'form', 'submitted any form')(details, names) +
    named(' on', 'pages', 'page', '')(details, names),
  messageLeft: word('wrote', 'words'),
  pageVisited: named('visited the page', 'pages', 'page', 'visited any page'),
  courseFinished: named('finished the course', 'courses', 'course', 'finished any course'),
  quizFinished: (details, names) =>
    named('finished the quiz', 'quizzes', 'quiz', 'finished any quiz')(details, names) +
    (typeof details.result === 'string' && details.result !== ''
      ? ` with “${partName(names, 'result', details.quiz, details.result)}”`
      : '') +
    // The journal tells the result; which answers were given matters where they are asked about.
    (Array.isArray(details.answers) && details.result === undefined
      ? ` with the answer ${details.answers.map((each) => `“${partName(names, 'answer', details.quiz, each)}”`).join(' and ')}`
      : ''),
  quizLeft: (details, names) =>
    named('left the quiz', 'quizzes', 'quiz', 'left any quiz')(details, names) +
    (typeof details.toGo === 'number' ? ` with ${details.toGo} to go` : ''),
  junctionPassed: (details, names) =>
    named(
      'was sent on by the junction',
      'junctions',
      'junction',
      'was sent on by any junction',
    )(details, names) +
    (typeof details.rule === 'string' && details.to === undefined
      ? ` by “${partName(names, 'rule', details.junction, details.rule)}”`
      : '') +
    (typeof details.to === 'string' ? ` to ${details.to}` : '') +
    (typeof details.why === 'string' ? ` (${details.why})` : ''),
  productBought: atPrice(named('bought', 'products', 'product', 'bought anything')),
  sessionRegistered: named('registered for', 'sessions', 'session', 'registered for any session'),
  sessionAttended: named('attended', 'sessions', 'session', 'attended any session'),
  orderRefunded: atPrice(named('got money back for', 'products', 'product', 'got money back')),
  checkoutLeft: (details, names) =>
    named('left the checkout of', 'products', 'product', 'left a checkout')(details, names) +
    (details.heldOut === true ? ' (held out: no email about it)' : ''),
  sessionMissed: named('missed', 'sessions', 'session', 'missed any session'),
  eventReported: word('was reported as', 'name'),
  pointsGiven: named('was given points in', 'scorecards', 'scorecard', 'was given points'),
  deadlineStarted: word('got a personal deadline of', 'offer'),
  tagAdded: named('got the tag', 'tags', 'tag', 'got any tag'),
  tagRemoved: named('lost the tag', 'tags', 'tag', 'lost any tag'),
  emailSent: named('was sent', 'emails', 'email', 'was sent any email'),
  emailHeld: named('was left out of', 'emails', 'email', 'was left out of some email'),
  emailMoved: named('gets later', 'emails', 'email', 'gets some email later'),
  emailFailed: named('could not be reached by', 'emails', 'email', 'could not be reached by some email'),
  emailOpened: named('opened', 'emails', 'email', 'opened any email'),
  emailClicked: (details, names) => {
    const where = named('in', 'emails', 'email', 'in any email')(details, names)
    return typeof details.link === 'number'
      ? `clicked ${nameOf(names, 'links', details.link)} ${where}`
      : `clicked ${where}`
  },
  fileSent: named('was sent the file', 'files', 'file', 'was sent any file'),
  fileDownloaded: named('downloaded', 'files', 'file', 'downloaded any file'),
  unsubscribed: ({ import: file }) =>
    typeof file === 'number' ? `unsubscribed by import ${file}` : 'unsubscribed',
  followupStarted: named('entered the follow-up', 'followups', 'followup', 'entered any follow-up'),
  followupEnded: named('left the follow-up', 'followups', 'followup', 'left any follow-up'),
  bandReached: band('reached'),
  bandLeft: band('dropped out of'),
  clockMoved: () => 'had their clock moved ahead',
}

/** What the person did, in words: ‘clicked in “Your template pack”’. */
export function describeActivity(kind: ActivityKind, details: Record<string, unknown>, names: Names): string {
  return verbs[kind](details, names)
}

/** A score as people read it: one decimal, and none that is zero. */
export const formatScore = (score: number): string => String(Math.round(score * 10) / 10 + 0)

/** "in the last 30 days" */
export function describeWithin(within: Within | undefined): string {
  if (!within) return ''
  if (within.kind === 'between') return ` between ${within.from} and ${within.to}`
  return ` in the last ${within.amount === 1 ? within.unit.slice(0, -1) : `${within.amount} ${within.unit}`}`
}

export const builtInFieldWords: Record<BuiltInField, string> = {
  address: 'address',
  firstName: 'first name',
  lastName: 'last name',
  phone: 'phone',
  country: 'country',
  language: 'language',
  zone: 'time zone',
}

/**
 * The rest of the sentence "the field …".
 * @param called what a value is called: that of a choice is an id
 */
export function describeTest(test: FieldTest, called = (value: string): string => value): string {
  const quoted = (values: readonly string[]): string[] => values.map((value) => `“${called(value)}”`)
  switch (test.test) {
    case 'is':
      return `is “${called(test.value)}”`
    case 'contains':
      return `contains “${test.value}”`
    case 'startsWith':
      return `starts with “${test.value}”`
    case 'endsWith':
      return `ends with “${test.value}”`
    case 'isAnyOf':
      return `is ${quoted(test.values).join(' or ')}`
    case 'hasAllOf':
      return `has all of ${quoted(test.values).join(', ')}`
    case 'isSet':
      return 'is filled in'
    case 'isYes':
      return 'is yes'
    case 'equals':
      return `is ${test.value}`
    case 'atLeast':
      return `is at least ${test.value}`
    case 'atMost':
      return `is at most ${test.value}`
    case 'onOrAfter':
      return `is on ${test.date} or later`
    case 'onOrBefore':
      return `is on ${test.date} or earlier`
    case 'inLastDays':
      return `was in the last ${test.days} days`
    case 'inNextDays':
      return `is in the next ${test.days} days`
  }
}

type Cards = Readonly<Record<number, Scorecard>>

const bandName = (cards: Cards, scorecard: unknown, id: unknown): string =>
  cards[Number(scorecard)]?.bands.find((each) => each.id === id)?.name ?? String(id)

/** A condition asks for a band by its id; an activity knows its name. */
const bandNamed = (details: Record<string, unknown>, cards: Cards): Record<string, unknown> =>
  details.band === undefined
    ? details
    : { ...details, name: bandName(cards, details.scorecard, details.band) }

type FieldLeaf = Extract<Leaf, { kind: 'field' }>

const fieldName = (field: FieldLeaf['field'], names: Names): string =>
  typeof field === 'number' ? nameOf(names, 'fields', field) : builtInFieldWords[field]

const describeFieldTest = ({ field, test }: FieldLeaf, names: Names): string =>
  describeTest(test, (value) => choiceName(names, field, value))

/** "is not", "does not contain": the verb with which a test begins, denied. */
function denied(test: string): string {
  const [verb = '', ...rest] = test.split(' ')
  if (verb === 'is' || verb === 'was') return [verb, 'not', ...rest].join(' ')
  return ['does not', verb === 'has' ? 'have' : verb.replace(/s$/, ''), ...rest].join(' ')
}

/** What is said of a deadline, and what when it is denied. */
const deadlineVerbs: Record<DeadlineState, [string, string]> = {
  none: ['has not begun', 'has begun'],
  running: ['runs', 'does not run'],
  over: ['is over', 'is not over'],
}

function describeLeaf(leaf: Leaf, names: Names, cards: Cards): string {
  switch (leaf.kind) {
    case 'did': {
      const times = leaf.atLeast > 1 ? ` at least ${leaf.atLeast} times` : ''
      return `${describeActivity(leaf.activity, bandNamed(leaf.details, cards), names)}${times}${describeWithin(leaf.within)}`
    }
    case 'hasTag':
      return `has the tag ${nameOf(names, 'tags', leaf.tag)}`
    case 'field':
      return `${fieldName(leaf.field, names)} ${describeFieldTest(leaf, names)}`
    case 'topic':
      return `agreed to the topic ${nameOf(names, 'topics', leaf.topic)}`
    case 'agreedTo':
      return `agreed to the wording of ${nameOf(names, 'wordings', leaf.wording)}`
    case 'state':
      return `is ${leaf.is.map((state) => marketingStateWords[state]).join(' or ')}`
    case 'score': {
      const { atLeast, below } = leaf
      const range = [
        atLeast === undefined ? '' : `is at least ${atLeast}`,
        below === undefined ? '' : `is below ${below}`,
      ]
      return `score on ${nameOf(names, 'scorecards', leaf.scorecard)} ${range.filter(Boolean).join(' and ')}`.trim()
    }
    case 'band': {
      const name = bandName(cards, leaf.scorecard, leaf.band)
      return `is in the band “${name}” of ${nameOf(names, 'scorecards', leaf.scorecard)}`
    }
    case 'segment':
      return `is in the segment ${nameOf(names, 'segments', leaf.segment)}`
    case 'source':
      return `${leaf.name} ${describeTest(leaf.test)}`
    case 'created':
      return `joined the list${describeWithin(leaf.within)}`
    case 'deadline':
      return `the personal deadline “${leaf.deadline}” ${deadlineVerbs[leaf.is][0]}`
    case 'followup': {
      const verb = { inside: 'is inside', finished: 'has finished', ever: 'is or was in' }[leaf.is]
      return `${verb} the follow-up ${nameOf(names, 'followups', leaf.followup)}`
    }
  }
}

/** The same, denied, as one would say it; what cannot be said in a word gets a “not” before it. */
function describeNegated(leaf: Leaf, names: Names, cards: Cards): string {
  const said = describeLeaf(leaf, names, cards)
  switch (leaf.kind) {
    case 'did':
      return leaf.atLeast > 1
        ? said.replace(` at least ${leaf.atLeast} times`, ` less than ${leaf.atLeast} times`)
        : `never ${said}`
    case 'hasTag':
      return said.replace(/^has/, 'does not have')
    case 'topic':
    case 'agreedTo':
      return said.replace(/^agreed/, 'did not agree')
    case 'created':
      return said.replace(/^joined/, 'did not join')
    case 'followup':
      return leaf.is === 'ever'
        ? said.replace(/^is or was/, 'never was')
        : said.replace(/^(is|has)/, '$1 not')
    case 'field':
      return `${fieldName(leaf.field, names)} ${denied(describeFieldTest(leaf, names))}`
    case 'source':
      return `${leaf.name} ${denied(describeTest(leaf.test))}`
    case 'band':
    case 'segment':
      return said.replace(/^is/, 'is not')
    case 'state':
      return leaf.is.length === 1
        ? said.replace(/^is/, 'is not')
        : said.replace(/^is/, 'is neither').replaceAll(' or ', ' nor ')
    case 'deadline':
      return `the personal deadline “${leaf.deadline}” ${deadlineVerbs[leaf.is][1]}`
    case 'score':
      return `not: ${said}`
  }
}

/** A condition as one reads it aloud. */
export function describeCondition(tree: Condition, names: Names, cards: Cards = {}): string {
  if (isLeaf(tree)) return describeLeaf(tree, names, cards)
  switch (tree.kind) {
    case 'not':
      return isLeaf(tree.of)
        ? describeNegated(tree.of, names, cards)
        : `not: (${describeCondition(tree.of, names, cards)})`
    case 'all':
    case 'any': {
      const parts = tree.of.map((part) =>
        part.kind === 'all' || part.kind === 'any'
          ? `(${describeCondition(part, names, cards)})`
          : describeCondition(part, names, cards),
      )
      if (parts.length === 0) return tree.kind === 'all' ? 'everybody' : 'nobody'
      return parts.join(tree.kind === 'all' ? ' and ' : ' or ')
    }
  }
}
