import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { ScoreCheckView } from '../../../contract/audience/scores.ts'
import { noNames } from '../../../core/audience/segments/names.ts'
import type { Scorecard } from '../../../core/audience/scores/scorecard.ts'
import { suggestPoints, type History } from '../../../core/audience/scores/suggestion.ts'
import { wilson } from '../../../core/results/wilson.ts'
import { fakeServer, modelOf, show, type FakeServer, type Shown } from '../../../testing/screen.ts'
import { vocabulary } from '../../../testing/vocabulary.ts'
import ScoreCheckPanel from './ScoreCheckPanel.vue'
import ScoreCheckTable from './ScoreCheckTable.vue'
import { useVocabulary } from '../segments/vocabulary.ts'

const card: Scorecard = {
  behaviours: [
    {
      id: 'r1',
      activity: 'emailClicked',
      details: {},
      points: 5,
      capPerDay: null,
      capInAll: null,
      halfLife: null,
    },
  ],
  profile: [],
  bands: [
    { id: 'cool', name: 'Cool', from: null },
    { id: 'hot', name: 'Hot', from: 30 },
  ],
}

/** What the server finds: the intervals are those of Newcombe, Statistics in Medicine 17 (1998), table I. */
const found = (area: number | null): ScoreCheckView => ({
  people: 411,
  asOf: '2026-10-25T10:00:00.000Z',
  all: wilson(96, 411),
  bands: [
    { band: 'cool', name: 'Cool', share: wilson(15, 148), lift: 0.43 },
    { band: 'hot', name: 'Hot', share: wilson(81, 263), lift: 1.32 },
    { band: 'none', name: 'Boiling', share: wilson(2, 12), lift: null },
  ],
  area,
})

/** Clicked often: bought. Fifteen of thirty, so that something can be learned. */
const history: History = {
  behaviours: [
    { activity: 'emailClicked', details: {}, halfLife: null },
    { activity: 'emailOpened', details: {}, halfLife: null },
  ],
  counts: Array.from({ length: 30 }, (_, i) => [i % 2 ? 3 + (i % 3) : i % 3, i % 5]),
  outcomes: Array.from({ length: 30 }, (_, i) => i % 2 === 1),
}

/** A worker that does the work in the same thread, as the real one does in its own. */
class SameThread {
  onmessage: ((event: { data: unknown }) => void) | null = null
  onerror: (() => void) | null = null
  terminate = vi.fn()
  postMessage(question: { history: History; card: Scorecard }): void {
    queueMicrotask(() => {
      try {
        this.onmessage?.({ data: { points: suggestPoints(question.history, question.card) } })
      } catch (error) {
        this.onmessage?.({ data: { fault: (error as Error).message } })
      }
    })
  }
}

let server: FakeServer
let shown: Shown
beforeEach(async () => {
  vi.stubGlobal('Worker', SameThread)
  server = fakeServer()
  server.answers('POST /scorecards/check', found(0.731))
  server.answers('POST /scorecards/history', history)
  shown = await show(ScoreCheckPanel, { modelValue: card, today: card })
  useVocabulary().words = { ...vocabulary, names: { ...noNames(), products: { 3: 'Sewing frame' } } }
  await flushPromises()
})

describe('the check of a score', () => {
  it('asks for the outcome that is chosen, and shows bands with their intervals', async () => {
    await shown.choose('Product', 'Sewing frame')
    await shown.fill('Days', '14')
    await shown.press('Check')
    expect(server.sent('POST /scorecards/check')).toEqual([
      { card, days: 14, outcome: { activity: 'productBought', details: { product: 3 } } },
    ])
    expect(shown.text()).toContain('411 people as they were on 25 Oct 2026')
    expect(shown.text()).toContain('6.2 % – 16.0 %')
    expect(shown.text()).toContain('25.5 % – 36.6 %')
    expect(shown.text()).toContain('0.731, fairly good')
  })

  it('says where there are too few to read a rate (common practice)', async () => {
    shown = await show(ScoreCheckTable, { check: found(0.5), beside: null })
    const rows = [...shown.page.querySelectorAll('tbody tr')].map((row) => row.textContent)
    expect(rows.filter((text) => text.includes('not enough data'))).toHaveLength(1)
    expect(rows[2]).toContain('Boiling')
    expect(shown.text()).toContain('no better than chance')
  })

  it.each([
    [null, 'undefined'],
    [0.5, 'no better than chance'],
    [0.6, 'slightly better than chance'],
    [0.9, '0.900, good'],
  ])('judges an area of %s in words', async (area, words) => {
    shown = await show(ScoreCheckTable, { check: found(area), beside: found(area) })
    expect(shown.text()).toContain(words)
    expect(shown.text()).toContain('With the suggested points')
  })

  it('is gone when the rules or the question change: it was about others', async () => {
    await shown.press('Check')
    expect(shown.text()).toContain('Area under the curve')
    await shown.fill('Days', '60')
    expect(shown.text()).not.toContain('Area under the curve')
  })
})

describe('suggested points', () => {
  it('stand beside today’s, and change nothing before they are accepted', async () => {
    await shown.press('Suggest points')
    await flushPromises()
    const rows = [...shown.page.querySelectorAll('.points tbody tr')].map((row) =>
      [...row.querySelectorAll('td')].map((cell) => cell.textContent.trim()),
    )
    expect(rows[0]?.slice(0, 3)).toEqual(['clicked in any email', '5', '20'])
    expect(modelOf(shown, ScoreCheckPanel)).toEqual(card)

    await shown.press('Use these points')
    const next = modelOf(shown, ScoreCheckPanel) as Scorecard
    expect(next.behaviours.find(({ activity }) => activity === 'emailClicked')).toMatchObject({
      id: 'r1',
      points: 20,
    })
    expect(shown.text()).not.toContain('Suggested points')
  })

  it('can be left', async () => {
    await shown.press('Suggest points')
    await flushPromises()
    await shown.press('Discard')
    expect(modelOf(shown, ScoreCheckPanel)).toEqual(card)
    expect(shown.text()).not.toContain('Suggested points')
  })

  it('are not made up from too few people: it says how many there must be', async () => {
    server.answers('POST /scorecards/history', {
      ...history,
      outcomes: history.outcomes.map((_, i) => i < 3),
    })
    await shown.press('Suggest points')
    await flushPromises()
    expect(shown.text()).toContain('No points can be suggested')
    expect(shown.text()).toContain('only 3 people did it: at least 10 are needed')
  })

  it('say when the server refuses, and let one try again', async () => {
    server.refuses('POST /scorecards/history', { status: 503, title: 'The database is away' })
    await shown.press('Suggest points')
    await flushPromises()
    expect(shown.text()).toContain('The database is away')
    expect(shown.control('Suggest points').disabled).toBe(false)
  })
})
