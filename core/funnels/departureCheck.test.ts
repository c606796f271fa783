import { describe, expect, it } from 'vitest'
import { composer } from '../blocks/compose.ts'
import type { Target } from '../blocks/target.ts'
import { simpleForm } from '../capture/form.ts'
import { contentOf, numberedIds } from '../../testing/documents.ts'
import { noNames } from '../audience/segments/names.ts'
import type { Block } from '../blocks/block.ts'
import type {
  CheckedFollowup,
  CheckedForm,
  CheckedPage,
  CheckedStation,
  FunnelSurroundings,
} from './checkedLine.ts'
import { checkFunnel } from './departureCheck.ts'
import { mendWords } from './finding.ts'
import { mendDocument } from './mending.ts'

const { block, section, document } = composer(numberedIds('check'))

const page = (id: number, leads: Target[], rest: Partial<CheckedPage> = {}): CheckedPage => ({
  id,
  name: `Page ${id}`,
  path: `page-${id}`,
  purpose: 'landing',
  state: 'live',
  findings: [],
  content: contentOf(
    document(section([{ blocks: leads.map((target) => block('button', { label: 'On', target })) }])),
    `Page ${id}`,
  ),
  course: null,
  forms: [],
  afterOrder: [],
  followups: [],
  otherFunnels: [],
  ...rest,
})
const at = (of: CheckedPage | null): CheckedStation => ({
  id: `s${of?.id ?? 'gone'}`,
  title: of?.name ?? '',
  kind: 'page',
  page: of,
})
const outside: CheckedStation = { id: 'shop', title: 'The shop', kind: 'outside', page: null }
const next: Target = { to: 'nextStep' }
const now = Date.parse('2026-11-27T12:00:00Z')
const around: FunnelSurroundings = {
  isLive: true,
  names: { ...noNames(), tags: { 1: 'Reader' } },
  filmLengths: { 5: 75, 6: 40 },
  samePath: [],
  endsNowhere: false,
  hasEnded: false,
  waitsForFile: new Set(),
  fileIsMissing: false,
  postalAddress: '3 Mill Lane',
  takes: 'live',
  faint: [],
  now,
}
const says = (...line: CheckedStation[]): string[] => checkFunnel(line, around).map(({ words }) => words)
const followup = (state: string, rest: Partial<CheckedFollowup> = {}): CheckedFollowup => ({
  id: 9,
  name: 'Welcome',
  state,
  leads: [],
  sendsMarketing: false,
  own: true,
  ...rest,
})
const form = (rest: Partial<CheckedForm> = {}): CheckedForm => ({
  id: 4,
  name: 'Sign-up',
  state: 'live',
  content: simpleForm({}),
  ...rest,
})

describe('the check of a funnel', () => {
  it('has nothing to say of a line that leads from the first step to the last', () => {
    expect(says(at(page(1, [next])), at(page(2, [{ to: 'page', page: 3 }])), at(page(3, [])))).toEqual([])
    expect(says(at(page(1, [{ to: 'path', path: '/p/page-2?from=one' }])), at(page(2, [])))).toEqual([])
    expect(says(at(page(1, [next])), outside)).toEqual([])
  })

  it('knows a junction on the line: who leads to it, that it leads on, and what its own check found', () => {
    const junction: CheckedStation = {
      id: 'j7',
      title: 'What next',
      kind: 'junction',
      page: null,
      sorter: { kind: 'junction', id: 7, state: 'live', findings: [] },
    }
    expect(says(at(page(1, [next])), junction, at(page(2, [])))).toEqual([])
    expect(says(at(page(1, [{ to: 'junction', junction: 7 }])), junction)).toEqual([])
    expect(says(at(page(1, [{ to: 'page', page: 2 }])), junction)).toEqual([
      'Nobody gets to “What next”: no step before it, and no email, leads there',
    ])
    const faulty = {
      kind: 'junction',
      id: 7,
      state: 'archived',
      findings: [{ level: 'error', words: 'Choose where it leads' }],
    } as const
    expect(says(at(page(1, [next])), { ...junction, sorter: faulty })).toEqual([
      '“What next” is archived: bring it back, or take it out',
      '“What next”: Choose where it leads',
    ])
    // A draft goes live with the funnel: it is a fault once that is live.
    const draft: CheckedStation = {
      ...junction,
      sorter: { kind: 'junction', id: 7, state: 'draft', findings: [] },
    }
    expect(checkFunnel([at(page(1, [next])), draft], around)).toEqual([
      { level: 'error', words: '“What next” is not live: publish it', part: '/library/junctions/7' },
    ])
    expect(checkFunnel([at(page(1, [next])), draft], { ...around, isLive: false })).toEqual([])
    expect(says(at(page(1, [next])), { ...junction, sorter: null })).toEqual([
      'Step 2 was deleted: take it out, or put another page there',
    ])
  })

  it('finds a line without steps, and a step that was deleted', () => {
    expect(says()).toEqual(['There is no step yet: add the page that people come to first'])
    expect(says(at(page(1, [next])), at(null))).toEqual([
      'Step 2 was deleted: take it out, or put another page there',
    ])
  })

  it('finds a step that nobody gets to; an email of a follow-up may lead there', () => {
    const lost = says(
      at(page(1, [next])),
      at(page(2, [{ to: 'web', url: 'https://x.test/' }])),
      at(page(3, [])),
    )
    expect(lost).toEqual(['Nobody gets to “Page 3”: no step before it, and no email, leads there'])
    // "Next step" leads one step on, and no further.
    expect(says(at(page(1, [{ to: 'page', page: 2 }])), at(page(2, [])), at(page(3, [])))).toContainEqual(
      expect.stringContaining('Nobody gets to “Page 3”'),
    )
    const mailed = page(1, [next], {
      followups: [followup('live', { leads: [{ to: 'page', page: 3 }] })],
    })
    expect(says(at(mailed), at(page(2, [next])), at(page(3, [])))).toEqual([])
  })

  it('follows where a form leads after it was sent', () => {
    const leading = form({ content: { ...simpleForm({}), after: { then: 'go', target: next } } })
    expect(says(at(page(1, [], { forms: [leading] })), at(page(2, [])))).toEqual([])
  })

  it('knows that a confirmed address leads on, and lessons of one course to each other', () => {
    const plain = simpleForm({})
    const content = {
      ...plain,
      confirm: { ...plain.confirm, when: 'always' as const, next: { to: 'page' as const, page: 2 } },
    }
    expect(says(at(page(1, [], { forms: [form({ content })] })), at(page(2, [])))).toEqual([])
    const lesson = (id: number): CheckedStation => at(page(id, [], { purpose: 'lesson', course: 3 }))
    expect(
      checkFunnel([lesson(1), lesson(2)], around).filter(({ words }) => !/may list/.test(words)),
    ).toEqual([])
  })

  it('finds a dead end, and says so as advice', () => {
    const found = checkFunnel([at(page(1, [])), at(page(2, []))], around)
    expect(found.find(({ level }) => level === 'advice')).toEqual({
      level: 'advice',
      words: '“Page 1” leads nowhere: add a button to the next step',
      part: '/library/pages/1',
    })
  })

  it.each<[string, Partial<CheckedPage>, RegExp, 'error' | 'advice']>([
    ['a page that is no longer live', { state: 'draft' }, /“Page 1” is not live/, 'error'],
    ['an archived page', { state: 'archived' }, /“Page 1” is archived/, 'error'],
    ['a thank-you page that is listed', { purpose: 'thankYou' }, /search engines may list it/, 'error'],
    [
      'a follow-up that never went live',
      { followups: [followup('draft')] },
      /“Welcome” begins here and is not live/,
      'error',
    ],
    [
      'a follow-up that is paused',
      { followups: [followup('paused')] },
      /“Welcome” begins here and is paused/,
      'advice',
    ],
    [
      'a follow-up that is closing',
      { followups: [followup('closing')] },
      /lets nobody in any more/,
      'advice',
    ],
    ['another funnel through it', { otherFunnels: ['Autumn'] }, /stands in “Autumn” too/, 'advice'],
    ['a form that is not live', { forms: [form({ state: 'archived' })] }, /“Sign-up” is not live/, 'error'],
    [
      'a form without consent whose follow-up sends marketing',
      {
        forms: [form({ content: { ...simpleForm({}), steps: [{ id: 'onestep', title: '', fields: [] }] } })],
        followups: [followup('live', { sendsMarketing: true })],
      },
      /asks for no consent, and “Welcome” sends marketing/,
      'error',
    ],
  ])('finds %s', (_what, rest, words, level) => {
    const found = checkFunnel([at(page(1, [next], rest)), at(page(2, []))], around).find((each) =>
      words.test(each.words),
    )
    expect(found?.level).toBe(level)
    expect(found?.part).toMatch(/^\/(library\/(pages|forms)|follow-ups)\/\d$/)
  })

  it('says nothing of drafts before the funnel is live: they go live with it', () => {
    const draft = page(1, [next], {
      state: 'draft',
      forms: [form({ state: 'draft' })],
      followups: [followup('draft')],
    })
    expect(checkFunnel([at(draft), at(page(2, []))], { ...around, isLive: false })).toEqual([])
  })

  /** What is said of a page of these blocks, which leads on besides. */
  const saysOf = (
    blocks: Block[],
    rest: Partial<CheckedPage> = {},
    given: Partial<FunnelSurroundings> = {},
  ) => {
    const on = block('button', { label: 'On', target: next })
    const content = contentOf(document(section([{ blocks: [...blocks, on] }])), 'Page 1')
    return checkFunnel(
      [at(page(1, [], { ...rest, content: { ...content, listed: false } })), at(page(2, []))],
      {
        ...around,
        ...given,
      },
    )
  }

  it('finds a film of more than a minute on a thank-you page, and no shorter one', () => {
    const film = (file: number): Block =>
      block('video', { title: 'A word', source: { from: 'file', file, captions: null } })
    expect(saysOf([film(5)], { purpose: 'thankYou' }).map(({ words }) => words)).toEqual([
      '“Page 1”: the video takes 75 seconds: a minute is plenty here',
    ])
    expect(saysOf([film(6)], { purpose: 'thankYou' })).toEqual([])
    expect(saysOf([film(5)], { purpose: 'lesson' })).toEqual([])
  })

  it('finds a countdown that has ended, and a link that leaves a sales page in the same window', () => {
    const until = (at: string): Block => block('countdown', { until: at, words: 'Ends', after: '' })
    expect(saysOf([until('2026-11-26T00:00:00Z')])[0]).toMatchObject({
      level: 'advice',
      mend: { does: 'removeBlock' },
    })
    expect(saysOf([until('2026-11-28T00:00:00Z')])).toEqual([])
    const away = block('button', { label: 'Shop', target: { to: 'web', url: 'https://shop.test/' } })
    expect(saysOf([away], { purpose: 'sales' })[0]).toMatchObject({
      level: 'advice',
      mend: { does: 'openNewWindow' },
    })
    expect(saysOf([{ ...away, newWindow: true }], { purpose: 'sales' })).toEqual([])
    expect(saysOf([away])).toEqual([])
  })

  it('finds a condition that speaks of something deleted', () => {
    const shownTo = (tag: number) => ({ people: { kind: 'hasTag' as const, tag }, instead: '' })
    const only = (tag: number): Block => block('heading', { words: 'For readers', shownTo: shownTo(tag) })
    expect(saysOf([only(1)])).toEqual([])
    expect(saysOf([only(2)])[0]?.words).toMatch(/asks about something that was deleted: the tag/)
  })

  it('finds a file page without its file, and a file that nobody is mailed', () => {
    expect(saysOf([], { purpose: 'file' })[0]).toMatchObject({
      level: 'error',
      words: '“Page 1” gives no file: choose where its button leads',
    })
    const gives = block('button', { label: 'Take it', target: { to: 'file', file: 8 } })
    expect(saysOf([gives], { purpose: 'file' })[0]?.words).toMatch(/is not mailed/)
    const mails = followup('live', { leads: [{ to: 'file', file: 8 }] })
    expect(saysOf([gives], { purpose: 'file', followups: [mails] })).toEqual([])
    const sends = form({ content: { ...simpleForm({}), actions: [{ does: 'sendFile', file: 8 }] } })
    expect(saysOf([gives], { purpose: 'file', forms: [sends] })).toEqual([])
  })

  it('follows a sale: to where a product is bought, and on to what comes after paying', () => {
    const product: Target = { to: 'product', product: 5 }
    const offers = [{ product: 5, price: null }]
    const order = page(2, [], {
      content: contentOf(
        document(section([{ blocks: [block('orderForm', { offers, label: 'Pay' })] }])),
        'Order',
      ),
      afterOrder: [next],
    })
    expect(says(at(page(1, [product])), at(order), at(page(3, [])))).toEqual([])
    expect(says(at(page(1, [{ to: 'product', product: 6 }])), at(order), at(page(3, [])))).toEqual([
      'Nobody gets to “Page 2”: no step before it, and no email, leads there',
    ])
    const tests = checkFunnel([at(order), at(page(3, []))], { ...around, takes: 'test' })
    expect(tests.map(({ words }) => words)).toEqual([
      'Buyers cannot pay with money yet: take payments under Results, Orders',
    ])
  })

  it('finds what is wrong with the funnel as a whole', () => {
    const whole = (given: Partial<FunnelSurroundings>, rest: Partial<CheckedPage> = {}): string[] =>
      checkFunnel([at(page(1, [next], rest)), at(page(2, []))], { ...around, ...given }).map(
        ({ words }) => words,
      )
    expect(whole({ samePath: ['Autumn'] })).toEqual(['“Autumn” has the same path: give one of them another'])
    expect(whole({ endsNowhere: true })[0]).toMatch(/where visitors go before and after/)
    expect(whole({ fileIsMissing: true })[0]).toMatch(/^The file that it gives is missing/)
    expect(whole({ hasEnded: true })[0]).toMatch(/^It is over/)
    expect(whole({ faint: ['Text on the background (2.1)'] })[0]).toMatch(/is hard to read/)
    const marketing = { followups: [followup('live', { sendsMarketing: true })] }
    expect(whole({ postalAddress: ' ' }, marketing)[0]).toMatch(/^Write your postal address/)
    expect(whole({ postalAddress: ' ' })).toEqual([])
  })

  it('leaves a draft alone that others start too: it is not the funnel’s to make live', () => {
    const shared = { followups: [followup('draft', { own: false })] }
    expect(says(at(page(1, [next], shared)), at(page(2, [])))).toEqual([])
  })

  it('looks at both tracks of a step', () => {
    const line: CheckedStation = { ...at(page(1, [next])), other: page(3, [next], { state: 'archived' }) }
    expect(says(line, at(page(2, [])))).toEqual(['“Page 3” is archived: bring it back, or take it out'])
    const byOther: CheckedStation = { ...at(page(1, [])), other: page(3, [next]) }
    expect(says(byOther, at(page(2, [])))).not.toContainEqual(expect.stringContaining('Nobody gets to'))
  })

  it('offers a press for what a press can put right, after which it is found no more', () => {
    const empty = block('button', { label: 'Go' })
    const own = [{ level: 'error' as const, words: 'Choose where the button leads', part: empty.id }]
    const content = contentOf(document(section([{ blocks: [empty] }])), 'Page 1')
    const checked = page(1, [], { content, findings: own })
    const found = checkFunnel([at(checked), at(page(2, []))], around).find(({ words }) =>
      /Choose where/.test(words),
    )
    expect(found?.part).toBe(`/library/pages/1?part=${empty.id}`)
    if (!found?.mend) throw new Error('no press is offered')
    expect(mendWords(found.mend)).toBe('Lead to the next step')
    const mended = mendDocument(content.document, found.mend)
    expect(mended?.sections[0]?.columns[0]?.blocks[0]).toMatchObject({ target: { to: 'nextStep' } })
    expect(mended && mendDocument(mended, found.mend)).toBeNull()
    // On the last page there is nothing to lead to.
    const [last] = checkFunnel([at(checked)], around).filter(({ words }) => /Choose where/.test(words))
    expect(last?.mend && mendWords(last.mend)).toBe('Take it out')
  })
})

describe('what a funnel sells', () => {
  const selling = (id: number, blocks: Block[], rest: Partial<CheckedPage> = {}): CheckedStation =>
    at(
      page(id, [], {
        content: contentOf(document(section([{ blocks }])), `Page ${id}`),
        afterOrder: [next],
        ...rest,
      }),
    )
  const order = (...products: number[]): CheckedStation =>
    selling(1, [block('orderForm', { offers: products.map((product) => ({ product, price: null })) })])
  const offer = (product: number | null): CheckedStation =>
    selling(
      2,
      product === null ? [] : [block('nextOffer', { offer: { product, price: null }, yes: next, no: next })],
      { purpose: 'upsell', afterOrder: [] },
    )
  const twice = '“Page 2” offers what buyers have just bought: choose a second product'

  it('offers after paying what buyers do not have yet', () => {
    expect(says(order(5), offer(6))).not.toContain(twice)
    expect(says(order(5), offer(5))).toContain(twice)
    // Who bought the other one does not have it.
    expect(says(order(5, 6), offer(5))).not.toContain(twice)
    expect(says(offer(5))).not.toContain(twice)
  })

  it('has no page of one more offer that offers nothing', () => {
    const nothing = '“Page 2” offers nothing: add a part “one more offer”'
    expect(says(order(5), offer(null))).toContain(nothing)
    expect(says(order(5), offer(6))).not.toContain(nothing)
  })
})
