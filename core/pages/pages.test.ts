import { describe, expect, it } from 'vitest'
import { contentOf, numberedIds } from '../../testing/documents.ts'
import { composer } from '../blocks/compose.ts'
import { safeHeadCode, safeHtml } from '../blocks/safeHtml.ts'
import { edit } from '../blocks/operations.ts'
import { contrast, contrastsOf, plainBrand } from './brand.ts'
import { describeChanges } from './describeChanges.ts'
import { findingsOf, type Surroundings } from './findings.ts'
import { lessonStates, opensAt, type Learner, type Lesson } from './lessons.ts'
import { pagePath, pathOfName } from './page.ts'

const { block, text, section, document } = composer(numberedIds('page'))

describe('contrast', () => {
  it.each([
    // Source: WCAG 2.2 definition of contrast ratio; #777 on white is the well-known near miss.
    ['#000000', '#FFFFFF', 21],
    ['#777777', '#FFFFFF', 4.48],
    ['#767676', '#FFFFFF', 4.54],
    ['#FFFFFF', '#FFFFFF', 1],
  ])('of %s on %s is %d', (a, b, ratio) => {
    expect(contrast(a, b)).toBeCloseTo(ratio, 2)
  })

  it('is enough for every pair that a new business wears', () => {
    expect(contrastsOf(plainBrand.colours).filter(({ enough }) => !enough)).toEqual([])
  })
})

describe('a path', () => {
  it.each(['template-pack', 'template-pack/thanks', '2026', 'a/b/c'])('may be %s', (path) => {
    expect(pagePath.safeParse(path).success).toBe(true)
  })
  it.each([
    '',
    'Template',
    'a b',
    '/a',
    'a/',
    'a//b',
    '../a',
    'a--b',
    'app',
    'api/x',
    'robots',
    'é',
    'x'.repeat(101),
  ])('may not be “%s”', (path) => {
    expect(pagePath.safeParse(path).success).toBe(false)
  })
  it('is made of a name, whatever that is', () => {
    expect(pathOfName('Sew your first book!')).toBe('sew-your-first-book')
    expect(pathOfName('Élan & co.')).toBe('elan-co')
    expect(pathOfName('日本')).toBe('page')
    expect(pathOfName('App')).toBe('page')
  })
})

describe('when a lesson opens', () => {
  const lesson = (page: number, opens: Lesson['opens']): Lesson => ({ page, title: `Lesson ${page}`, opens })
  const learner = (given: Partial<Learner>): Learner => ({
    seen: new Map(),
    zone: 'UTC',
    ...given,
  })

  it('days later begins with that day where the learner is, also over a change of summer time', () => {
    // Dublin put the clocks back on 25 October 2026, New York on 1 November (IANA tzdata).
    const beganAt = Date.parse('2026-10-24T08:00:00Z') // 09:00 in Dublin
    const opens = opensAt(
      { when: 'daysAfterStart', days: 2 },
      { ...learner({ zone: 'Europe/Dublin' }), beganAt },
      undefined,
      'UTC',
    )
    expect(new Date(opens!).toISOString()).toBe('2026-10-26T00:00:00.000Z')
    const inNewYork = opensAt(
      { when: 'daysAfterStart', days: 2 },
      { ...learner({ zone: 'America/New_York' }), beganAt },
      undefined,
      'UTC',
    )
    expect(new Date(inNewYork!).toISOString()).toBe('2026-10-26T04:00:00.000Z')
  })

  it('on a date is the beginning of that day where the business is', () => {
    const opens = (zone: string) =>
      opensAt({ when: 'date', date: '2026-12-01' }, { ...learner({}), beganAt: null }, undefined, zone)
    expect(new Date(opens('Pacific/Auckland')!).toISOString()).toBe('2026-11-30T11:00:00.000Z')
    expect(new Date(opens('America/Denver')!).toISOString()).toBe('2026-12-01T07:00:00.000Z')
  })

  it('is told in the learner’s own zone, and what was seen is done', () => {
    const began = Date.parse('2026-11-24T10:00:00Z')
    const lessons = [
      lesson(1, { when: 'atOnce' }),
      lesson(2, { when: 'daysAfterStart', days: 2 }),
      lesson(3, { when: 'previousSeen' }),
    ]
    const states = (given: Partial<Learner>, now: number) => lessonStates(lessons, learner(given), now, 'UTC')
    const seen = new Map([[1, began]])
    const now = began + 3_600_000
    expect(states({ seen, zone: 'Asia/Kolkata' }, now)).toMatchObject([
      { is: 'done' },
      { is: 'locked', words: 'opens Thursday 26 November' },
      { is: 'locked', at: null, words: 'opens when you have seen “Lesson 2”' },
    ])
    const later = began + 2 * 86_400_000
    expect(states({ seen: new Map([...seen, [2, later]]) }, later).map(({ is }) => is)).toEqual([
      'done',
      'done',
      'open',
    ])
    expect(states({}, now).map(({ is }) => is)).toEqual(['open', 'locked', 'locked'])
  })
})

describe('own HTML', () => {
  it.each([
    ['<p onclick="x()">a</p>', '<p>a</p>'],
    ['<script>alert(1)</script>b', 'b'],
    ['<a href="javascript:alert(1)">c</a>', '<a>c</a>'],
    ['<a href="//evil.example">c</a>', '<a>c</a>'],
    ['<img src="https://evil.example/a.png">d', 'd'],
    ['<p style="position:fixed">e</p>', '<p>e</p>'],
    ['<form action="/x"><input name="q"></form>f', 'f'],
    ['<svg><script>alert(1)</script></svg>g', 'g'],
    ['<table><tr><td colspan="2">h</td></tr></table>', '<table><tr><td colspan="2">h</td></tr></table>'],
  ])('%s becomes %s, and stays that', (given, safe) => {
    expect(safeHtml(given)).toBe(safe)
    expect(safeHtml(safe)).toBe(safe)
  })

  it('for the head is only what describes the page', () => {
    expect(
      safeHeadCode(
        '<meta name="verify" content="a1"><script>x()</script>text<link rel="stylesheet" href="https://evil.example/a.css"><meta http-equiv="refresh" content="0;url=https://evil.example">',
      ),
    ).toBe('<meta name="verify" content="a1" />')
  })
})

describe('what changed', () => {
  it('is told in words, and nothing when nothing did', () => {
    const [head, words, end] = [block('heading', { words: 'Old' }), text('Kept'), block('divider')]
    const before = contentOf(document(section([{ blocks: [head, words, end] }])))
    expect(describeChanges(before, structuredClone(before))).toEqual([])
    const column = before.document.sections[0]!.columns[0]!.id
    const steps = [
      { do: 'change', part: { ...head, words: 'New' } },
      { do: 'remove', id: end.id },
      { do: 'insert', part: block('button', { label: 'Go' }), at: { column, index: 2 } },
    ] as const
    let after = before.document
    for (const step of steps) after = edit(after, step).document
    expect(describeChanges(before, { ...before, title: 'Other', document: after })).toEqual([
      'Changed title',
      'Changed “Old” to “New”',
      'Added “button: Go”',
      'Removed “divider”',
    ])
    const moved = edit(before.document, { do: 'move', id: head.id, to: { column, index: 1 } }).document
    expect(
      describeChanges(before, { ...before, document: moved }).every((words) => words.startsWith('Moved')),
    ).toBe(true)
  })
})

describe('the checks of a page', () => {
  const around: Surroundings = {
    livePages: new Set([1]),
    pageNames: { 1: 'Live', 2: 'Draft' },
    liveForms: new Set([1]),
    livePopUps: new Set([1]),
    namedLinks: new Set(),
    liveJunctions: new Set<number>(),
    liveQuizzes: new Set<number>(),
    products: new Map([[1, new Set(['priceone'])]]),
    videoHosts: ['films.example'],
    mergeNames: new Set(['first name']),
    moments: new Map(),
    pictureDetails: new Set([5]),
    faint: [],
    now: Date.parse('2026-11-24T10:00:00Z'),
  }
  const errorsOf = (...blocks: ReturnType<typeof block>[]): string[] =>
    findingsOf(contentOf(document(section([{ blocks }]))), 'any', around)
      .filter(({ level }) => level === 'error')
      .map(({ words }) => words)

  it('say that one product is offered twice, but not that it has several prices', () => {
    const words = (...blocks: ReturnType<typeof block>[]): string[] =>
      findingsOf(contentOf(document(section([{ blocks }]))), 'any', around).map((each) => each.words)
    const twice = 'The same product is offered twice on this page: keep one of the offers'
    const form = (given: object = {}) =>
      block('orderForm', { offers: [{ product: 1, price: null }], label: 'Pay', ...given })
    const one = { product: 1, price: 'priceone' }
    expect(words(form())).not.toContain(twice)
    expect(words(form({ offers: [one, { product: 1, price: 'pricetwo' }] }))).not.toContain(twice)
    expect(words(form(), form())).toContain(twice)
    expect(words(form({ extra: one }))).toContain(twice)
    expect(words(form(), block('nextOffer', { offer: one }))).toContain(twice)
  })

  it('name what would go wrong, at its place', () => {
    const picture = block('picture', { picture: 1 })
    const found = findingsOf(contentOf(document(section([{ blocks: [picture] }]))), 'any', around)
    expect(found[0]).toEqual({
      level: 'error',
      words: 'Say what the picture shows, or mark it as decorative',
      part: picture.id,
    })
    expect(errorsOf(block('picture', { picture: 1, decorative: true }))).toEqual([])
    expect(errorsOf(block('picture', { detail: 5, decorative: true }))).toEqual([])
    expect(errorsOf(block('picture', { detail: 6, decorative: true }))[0]).toContain('is gone')
    expect(errorsOf(block('form'))).toEqual(['Choose a form'])
    expect(errorsOf(block('form', { form: 2 }))).toEqual(['Publish the form that stands here first'])
    expect(errorsOf(block('form', { form: 1 }))).toEqual([])
    expect(errorsOf(block('button', { label: 'Go' }))).toEqual(['Choose where the button leads'])
    expect(errorsOf(block('button', { label: 'Go', target: { to: 'page', page: 9 } }))).toEqual([
      '“Go” leads to a page that was deleted',
    ])
    expect(
      errorsOf(block('button', { label: 'Go {shoe size}', target: { to: 'page', page: 1 } }))[0],
    ).toContain('{shoe size} is no merge field')
    expect(
      errorsOf(block('video', { title: '', source: { from: 'web', url: 'https://evil.example/x' } })),
    ).toEqual(['evil.example is not on your list of video hosts (Site settings)'])
  })

  it('advise, without standing in the way, what a good page has', () => {
    const words = (purpose: 'landing' | 'thankYou') =>
      findingsOf(contentOf(document(section([{ blocks: [text('Words')] }]))), purpose, around).map(
        (each) => each.words,
      )
    expect(words('landing')).toContain('A landing page without a form captures nobody')
    expect(words('thankYou')).toContain(
      'Search engines may list this page: people would find it without the form',
    )
  })
})
