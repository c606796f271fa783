import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'
import type { JunctionRow, JunctionView } from '../../contract/junctions.ts'
import { junctionContent } from '../../core/junctions/junction.ts'
import {
  emptySite,
  type FakeServer,
  fakeServer,
  show,
  type Shown,
  submitDialog,
  typeInDialog,
} from '../../testing/screen.ts'
import { vocabulary } from '../../testing/vocabulary.ts'
import JunctionEditor from './JunctionEditor.vue'
import JunctionList from './JunctionList.vue'

// There is no canvas to draw on here.
vi.mock('vue-chartjs', () => ({ Bar: defineComponent({ render: () => h('canvas') }) }))

const content = junctionContent.parse({
  rules: [
    { id: 'newcomers', name: 'New here', when: { kind: 'hasTag', tag: 1 }, target: { to: 'page', page: 1 } },
    { id: 'bookbinders', when: { kind: 'hasTag', tag: 2 }, target: { to: 'page', page: 2 } },
  ],
  otherwise: { to: 'page', page: 2 },
})
const proof: JunctionView['proof'] = {
  provable: true,
  rules: [
    { id: 'newcomers', is: 'reached', example: 'has the tag “Template pack”', words: null },
    { id: 'bookbinders', is: 'never', example: null, words: 'Nobody gets here: rule 1 takes them.' },
  ],
  untaken: ['Who does not have the tag “Bookbinder”'],
}
const junction: JunctionView = {
  id: 5,
  name: 'What next',
  path: 'what-next',
  labels: ['spring'],
  state: 'live',
  publishedVersion: 1,
  version: 1,
  revision: 1,
  savedAt: '2026-11-24T09:00:00.000Z',
  savedBy: 'Mara Ellery',
  changes: [],
  findings: [{ level: 'error', words: 'Nobody gets here: rule 1 takes them.', part: 'bookbinders' }],
  others: [],
  usedIn: ['page Thanks'],
  versions: [{ number: 1, madeAt: '2026-11-24T09:00:00.000Z', madeBy: 'Mara Ellery', published: true }],
  content,
  proof,
}
const page = (id: number, name: string) => ({ id, name, path: `p${id}`, purpose: 'any' as const, live: true })

let server: FakeServer
let shown: Shown
const settle = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(1_200)
  await flushPromises()
}
beforeEach(() => {
  vi.useFakeTimers()
  server = fakeServer()
  server.answers('GET /junctions/5', junction)
  server.answers('GET /site', emptySite({ pages: [page(1, 'Course'), page(2, 'Circle')] }))
  server.answers('GET /vocabulary', vocabulary)
  server.answers('POST /junctions/5/sorted', {
    rules: [
      { rule: 'newcomers', people: 1200 },
      { rule: 'bookbinders', people: 0 },
      { rule: '-', people: 34 },
    ],
  })
  server.answers('GET /junctions/5/passes', {
    days: ['2026-11-23', '2026-11-24'],
    rules: [{ rule: 'newcomers', known: [2, 3], strangers: [0, 1] }],
  })
  server.answers('POST /junctions/5/save', ({ body }: { body: unknown }) => ({
    ...junction,
    revision: (body as { revision: number }).revision + 1,
  }))
})
afterEach(() => vi.useRealTimers())
const row = (id: string) => shown.wrapper.get(`[data-row="${id}"]`)
const savedRules = (): string[] =>
  (server.sent('POST /junctions/5/save').at(-1) as { content: typeof content }).content.rules.map(
    ({ id }) => id,
  )

describe('the line of a junction', () => {
  beforeEach(async () => {
    shown = await show(JunctionEditor, { id: 5 })
    await settle()
  })

  it('says of each rule who it takes, where it leads, how many now, and what is proved', () => {
    expect(row('newcomers').text()).toContain('New here')
    expect(row('newcomers').text()).toContain('Course')
    expect(row('newcomers').text()).toContain('1,200 now')
    expect(row('bookbinders').text()).toContain('Nobody gets here: rule 1 takes them.')
    expect(row('-').text()).toContain('Who does not have the tag “Bookbinder”')
    expect(shown.wrapper.text()).toContain('Within 30 days 5 people and 1 unknown visitors passed.')
    // With a fault it cannot be published.
    const publish = shown.wrapper.findAll('button').find((each) => each.text() === 'Publish')
    expect(publish?.attributes('disabled')).toBeDefined()
  })

  it('is edited by keys: moved, deleted, duplicated, undone; every change is saved and counted anew', async () => {
    await row('bookbinders').trigger('keydown', { key: 'ArrowUp', altKey: true })
    await settle()
    expect(savedRules()).toEqual(['bookbinders', 'newcomers'])
    await row('newcomers').trigger('keydown', { key: 'Delete' })
    await settle()
    expect(savedRules()).toEqual(['bookbinders'])
    await row('bookbinders').trigger('keydown', { key: 'z', ctrlKey: true })
    await settle()
    expect(savedRules()).toEqual(['bookbinders', 'newcomers'])
    await row('newcomers').trigger('keydown', { key: 'd', ctrlKey: true })
    await settle()
    expect(savedRules()).toHaveLength(3)
    expect(server.sent('POST /junctions/5/sorted').length).toBeGreaterThan(3)
    // Otherwise stays.
    await row('-').trigger('keydown', { key: 'Delete' })
    await settle()
    expect(shown.wrapper.find('[data-row="-"]').exists()).toBe(true)
  })

  it('gets a rule more at its place, which asks nothing yet', async () => {
    await row('newcomers').trigger('keydown', { key: 'Insert' })
    await settle()
    const rules = savedRules()
    expect([rules.length, rules[0], rules[2]]).toEqual([3, 'newcomers', 'bookbinders'])
    expect(row(rules[1] ?? '').text()).toContain('everybody')
    expect(shown.wrapper.text()).toContain('Rule 2')
  })

  it('keeps its name, address and labels, and says under the field what is wrong', async () => {
    const fields = shown.wrapper.findAll('input')
    const path = fields.find((each) => (each.element as HTMLInputElement).value === 'what-next')
    server.refuses('POST /junctions/5/settings', {
      status: 409,
      title: 'This path is taken',
      fields: { path: '“Other” has this path, or had it' },
    })
    await path?.setValue('other')
    await shown.wrapper
      .findAll('button')
      .find((each) => each.text() === 'Save')
      ?.trigger('click')
    await settle()
    expect(server.sent('POST /junctions/5/settings')).toEqual([
      { name: 'What next', path: 'other', labels: ['spring'] },
    ])
    expect(shown.wrapper.text()).toContain('“Other” has this path, or had it')
  })
})

describe('the list of junctions', () => {
  it('shows what each does, filters by label, and makes a new one', async () => {
    const listed = (given: Partial<JunctionRow>): JunctionRow => ({
      id: 5,
      name: 'What next',
      path: 'what-next',
      labels: ['spring'],
      state: 'live',
      hasDraft: false,
      rules: 3,
      known: 226,
      strangers: 74,
      usedIn: ['page Thanks'],
      changedAt: '2026-11-24T09:00:00.000Z',
      ...given,
    })
    server.answers('GET /junctions', [
      listed({}),
      listed({ id: 6, name: 'Fair card', path: 'fair', labels: [] }),
    ])
    shown = await show(JunctionList, {})
    await settle()
    expect(shown.wrapper.text()).toContain('/j/what-next')
    expect(shown.wrapper.text()).toContain('226')
    server.answers('POST /junctions', { id: 9 })
    await shown.wrapper
      .findAll('button')
      .find((each) => each.text() === 'New junction')
      ?.trigger('click')
    await settle()
    typeInDialog('After the fair')
    await settle()
    submitDialog()
    await settle()
    expect(server.sent('POST /junctions')[0]).toMatchObject({
      name: 'After the fair',
      content: { rules: [], otherwise: { to: 'nowhere' } },
    })
  })
})
