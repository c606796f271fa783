import { describe, expect, it } from 'vitest'
import { numbersIn } from '../blocks/renumber.ts'
import { walk } from '../blocks/walk.ts'
import { allSteps, emailsOf } from '../followups/step.ts'
import { pagesOf } from './funnel.ts'
import { listsOfFile, readFunnelFile, type FunnelFile } from './funnelFile.ts'
import { funnelFrom, funnelStarters, startersFor } from './starters.ts'
import { goal } from './funnel.ts'

let made = 0
const newId = (): string => `part${String((made += 1)).padStart(4, '0')}`

function make(id: string): FunnelFile {
  const starter = funnelStarters.find((each) => each.id === id)
  if (!starter) throw new Error(`there is no starter ${id}`)
  return funnelFrom(
    starter,
    starter.goal,
    {
      name: 'Template pack',
      path: 'pack',
      labels: ['spring'],
      currency: 'EUR',
      opens: '2027-03-01',
      zone: 'Europe/Amsterdam',
    },
    newId,
  )
}

describe.each(funnelStarters.map(({ id }) => id))('the starter %s', (id) => {
  const file = make(id)

  it('speaks of nothing that it does not make', () => {
    const ids = new Map(
      listsOfFile.map((list) => [list as string, new Set(file[list].map((each) => each.id))]),
    )
    const unknown = numbersIn(file).filter((each) => !ids.get(each.kind)?.has(each.id))
    expect(unknown).toEqual([])
  })

  it('is a file that can be read again', () => {
    expect(readFunnelFile(JSON.stringify(file))).toEqual({ ok: true, file })
  })

  it('is named after what the marketer called it, with addresses under its path', () => {
    for (const { name } of [...file.pages, ...file.forms, ...file.emails, ...file.followups])
      expect(name).toMatch(/^Template pack: ./)
    for (const { path } of file.pages) expect(path).toMatch(/^pack(\/|$)/)
    expect(file.funnel).toMatchObject({ labels: ['spring'], settings: { path: 'pack', currency: 'EUR' } })
  })

  it('sends every email by some follow-up, and has a subject and a preheader in each', () => {
    const sent = new Set(file.followups.flatMap(({ content }) => emailsOf(content)))
    expect([...sent].sort()).toEqual(file.emails.map((each) => each.id).sort())
    for (const { content } of file.emails) expect([content.subject, content.preheader]).not.toContain('')
  })

  it('says where one writes what belongs there', () => {
    for (const { content } of [...file.pages, ...file.emails]) {
      const guided = [...walk(content.document)].filter(({ block }) => block.guidance)
      expect(guided.length).toBeGreaterThan(0)
    }
  })
})

describe('starters', () => {
  it('are there for each goal, the one with nothing last', () => {
    for (const each of goal.options) expect(startersFor(each).at(-1)?.id).toBe('nothing')
    expect(startersFor('list').map(({ id }) => id)).toEqual([
      'free-file',
      'confirmed-file',
      'newsletter',
      'quiz',
      'two-pages',
      'nothing',
    ])
  })

  it('a free file: file page unlisted, reminders to who did not open and who did not click', () => {
    const { pages, followups, funnel } = make('free-file')
    expect(pages.map(({ purpose, content }) => [purpose, content.listed])).toEqual([
      ['landing', true],
      ['thankYou', false],
      ['file', false],
    ])
    // The file's own page and the email that brings it.
    expect(funnel.fileSlots.map((slot) => slot.in)).toEqual(['page', 'email'])
    const steps = allSteps(followups[0]?.content.steps ?? [])
    expect(steps.map(({ kind }) => kind)).toEqual([
      'send',
      'waitUntil',
      'branch',
      'send',
      'send',
      'waitFor',
      'waitTime',
      'send',
    ])
  })

  it('with an address to confirm nothing goes out before', () => {
    for (const id of ['confirmed-file', 'newsletter']) {
      const { forms, followups } = make(id)
      expect(forms[0]?.content.confirm.when).toBe('always')
      expect(followups[0]?.content.startsWhen[0]?.kind).toBe('addressConfirmed')
    }
  })

  it('a waiting list waits for its day, sells in four emails and stops at the purchase', () => {
    const { products, followups } = make('waiting-list')
    const [selling] = followups
    const steps = allSteps(selling?.content.steps ?? [])
    expect(steps.find(({ kind }) => kind === 'waitDate')).toMatchObject({ date: '2027-03-01' })
    expect(steps.filter(({ kind }) => kind === 'send')).toHaveLength(5)
    expect(selling?.content.leavesWhen).toEqual([
      { when: { kind: 'productBought', product: products[0]?.id } },
    ])
  })

  it('a download is sold on its own page: the file at once, the newsletter on day five, and reminders that stop', () => {
    const { products, funnel, pages, followups } = make('sell-download')
    const [product] = products
    const purposeOf = new Map(pages.map(({ id, purpose }) => [id, purpose]))
    expect(funnel.stations.flatMap(pagesOf).map((page) => purposeOf.get(page))).toEqual([
      'sales',
      'order',
      'thankYou',
    ])
    const [buyers, left] = followups
    expect(buyers?.content.steps.map(({ kind }) => kind)).toEqual(['send', 'waitFor', 'joinTopic'])
    expect(product?.content.brings).toContainEqual({ does: 'startFollowup', followup: buyers?.id })
    expect(left?.content).toMatchObject({
      startsWhen: [{ kind: 'checkoutLeft', product: product?.id }],
      leavesWhen: [{ when: { kind: 'productBought', product: product?.id } }],
    })
  })

  it('a course has two prices, an extra, and two offers after paying of other products', () => {
    const { products, pages } = make('sell-course')
    expect(products.map(({ content }) => content.prices.length)).toEqual([2, 1, 1, 1])
    const sold = pages.flatMap(({ content }) =>
      numbersIn(content).flatMap(({ kind, id }) => (kind === 'products' ? [id] : [])),
    )
    expect(sold.sort()).toEqual(products.map(({ id }) => id).sort())
    expect(pages.find(({ purpose }) => purpose === 'lesson')?.content.limitedTo?.people.kind).toBe('hasTag')
  })

  it('one more look is written once, to who has not bought it, and its page ends by the first look', () => {
    const { deadlines, pages, followups, products } = make('one-more-look')
    expect(deadlines).toMatchObject([{ begins: 'visit', runs: { lasts: { amount: 14, unit: 'minutes' } } }])
    expect(pages[0]?.content.deadline).toBe(deadlines[0]?.name)
    expect(followups[0]?.content.steps).toMatchObject([
      { kind: 'waitFor', amount: 15, unit: 'minutes' },
      { kind: 'send', onlyIf: { kind: 'not' } },
    ])
    expect(followups[0]?.content.leavesWhen).toEqual([
      { when: { kind: 'productBought', product: products[0]?.id } },
    ])
  })

  it('three lessons open a day apart, and ten emails go out in all', () => {
    const { pages, emails, followups } = make('three-lessons')
    const lessons = pages.filter(({ purpose }) => purpose === 'lesson')
    expect(lessons.map(({ content }) => content.opens)).toEqual([
      { when: 'atOnce' },
      { when: 'daysAfterStart', days: 1 },
      { when: 'daysAfterStart', days: 2 },
    ])
    expect(emails).toHaveLength(10)
    expect(emailsOf(followups[0]?.content ?? { steps: [] })).toHaveLength(10)
    // Each lesson's email leads to its lesson, and from the second on back to the one before.
    const leads = emails
      .slice(1, 4)
      .map(({ content }) => numbersIn(content).filter(({ kind }) => kind === 'pages').length)
    expect(leads).toEqual([1, 2, 2])
  })

  it('two pages stand on two tracks with the same form', () => {
    const { funnel, pages, forms } = make('two-pages')
    const [first] = funnel.stations
    expect(first && pagesOf(first)).toEqual(pages.slice(0, 2).map(({ id }) => id))
    const [a, b] = pages.map(({ content }) => numbersIn(content).filter(({ kind }) => kind === 'forms'))
    expect(a).toEqual([{ kind: 'forms', id: forms[0]?.id }])
    expect(b).toEqual(a)
  })
})

describe('a funnel file', () => {
  const reasonOf = (text: string): string => {
    const read = readFunnelFile(text)
    return read.ok ? 'it was read' : read.reason
  }
  const good = make('free-file')

  it.each([
    ['broken', JSON.stringify(good).slice(0, 200), /^This is no JSON/],
    ['something else', '{"name":"x"}', /^This is JSON, but no funnel/],
    ['not even an object', '[1,2]', /^This is JSON, but no funnel/],
    ['of a newer version', JSON.stringify({ ...good, version: 7 }), /newer Nurtel \(version 7/],
    ['of no version', JSON.stringify({ ...good, version: 'x' }), /version/],
    ['with more in it than there is', JSON.stringify({ ...good, scripts: [] }), /not as it should be/],
    [
      'with a script in an address',
      JSON.stringify(good).replace('{"to":"nextStep"}', '{"to":"web","url":"javascript:alert(1)"}'),
      /Use a web address/,
    ],
    [
      'with an address of the install itself',
      JSON.stringify(good).replaceAll('"pack', '"api'),
      /used by Nurtel itself/,
    ],
    [
      'with two things of one number',
      JSON.stringify({ ...good, tags: [...good.tags, ...good.tags] }),
      /same number/,
    ],
    [
      'with groups in groups',
      `{"format":"nurtel-funnel","version":1,"segments":[{"id":1,"name":"x","tree":${'{"kind":"not","of":'.repeat(5000)}1${'}'.repeat(5000)}}]}`,
      /not as it should be/,
    ],
  ])('that is %s is refused with words', (_, text, words) => {
    expect(reasonOf(text)).toMatch(words)
  })
})
