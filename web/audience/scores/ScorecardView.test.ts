import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { ScorecardEdit } from '../../../contract/audience/scores.ts'
import { scorecard, type Scorecard } from '../../../core/audience/scores/scorecard.ts'
import { fakeServer, modelOf, show, type FakeServer, type Shown } from '../../../testing/screen.ts'
import { vocabulary } from '../../../testing/vocabulary.ts'
import ScorecardBands from './ScorecardBands.vue'
import ScorecardRules from './ScorecardRules.vue'
import ScorecardView from './ScorecardView.vue'
import { useVocabulary } from '../segments/vocabulary.ts'

const card: Scorecard = {
  behaviours: [
    {
      id: 'r1',
      activity: 'emailClicked',
      details: { email: 4 },
      points: 5,
      capPerDay: 10,
      capInAll: null,
      halfLife: 30,
    },
  ],
  profile: [
    { id: 'r2', when: { kind: 'field', field: 'country', test: { test: 'is', value: 'IE' } }, points: 3 },
  ],
  bands: [
    { id: 'cool', name: 'Cool', from: null },
    { id: 'warm', name: 'Warm', from: 10 },
  ],
}

let server: FakeServer
let shown: Shown
const opened = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(300)
  await flushPromises()
}
beforeEach(() => {
  vi.useFakeTimers()
  server = fakeServer()
  server.answers('GET /vocabulary', vocabulary)
})
afterEach(() => vi.useRealTimers())

describe('the rules of a scorecard', () => {
  const open = async (of: Scorecard): Promise<void> => {
    shown = await show(ScorecardRules, { modelValue: of })
    useVocabulary().words = vocabulary
    await flushPromises()
  }
  const now = (): Scorecard => modelOf(shown, ScorecardRules) as Scorecard

  it('are changed number by number; an empty one says that there is no such bound', async () => {
    await open({ ...card, profile: [] })
    await shown.fill('Points', '-4')
    await shown.fill('Half-life, days', '')
    await shown.fill('Daily cap', '')
    await shown.fill('Total cap', '40')
    expect(now().behaviours).toMatchObject([{ points: -4, halfLife: null, capPerDay: null, capInAll: 40 }])
    await shown.fill('Points', '')
    // A rule without points is no rule: the field shows again what it was.
    expect(now().behaviours[0]?.points).toBe(-4)
    expect(shown.control('Points').value).toBe('-4')
    await shown.fill('Points', '0')
    expect(scorecard.safeParse(now()).error?.issues[0]?.message).toMatch(/points/i)
  })

  it('forget what the old activity was about when another is chosen', async () => {
    await open(card)
    await shown.choose('Activity', 'got the tag')
    expect(now().behaviours).toMatchObject([{ activity: 'tagAdded', details: {} }])
    await shown.choose('Tag', 'Bookbinder')
    expect(now().behaviours).toMatchObject([{ details: { tag: 2 } }])
    await shown.choose('Tag', 'any')
    expect(now().behaviours).toMatchObject([{ details: {} }])
  })

  it('get ids of their own when they are added, also after one was taken away', async () => {
    await open(card)
    await shown.press('Add activity rule')
    await shown.press('Remove rule 1')
    await shown.press('Add activity rule')
    await shown.press('Add profile rule')
    const ids = [...now().behaviours, ...now().profile].map(({ id }) => id)
    expect(new Set(ids).size).toBe(4)
    await shown.press('Remove rule 3')
    expect(now().profile).toHaveLength(1)
    expect(scorecard.safeParse(now()).success).toBe(true)
  })
})

describe('the bands of a scorecard', () => {
  it('are named, moved, added above the highest, and taken away, but for the lowest', async () => {
    shown = await show(ScorecardBands, { modelValue: card, people: { cool: 1200 } })
    const now = (): Scorecard['bands'] => (modelOf(shown, ScorecardBands) as Scorecard).bands
    expect(shown.text()).toContain('1,200 people')
    await shown.press('Add band')
    expect(now().at(-1)).toEqual({ id: 'band-3', name: 'Band 3', from: 30 })
    expect(shown.controls('Remove band Cool')).toHaveLength(0)
    await shown.press('Remove band Warm')
    await shown.press('Add band')
    expect(now().map(({ id }) => id)).toEqual(['cool', 'band-3', 'band-4'])
    expect(scorecard.safeParse({ ...card, bands: now() }).success).toBe(true)
  })
})

describe('a scorecard', () => {
  const saved = { id: 7, name: 'Interest', card, people: { cool: 2000, warm: 400 }, missing: [] as string[] }
  const open = async (id: number | null, of = saved): Promise<void> => {
    server.answers('GET /scorecards', [of])
    shown = await show(ScorecardView, { id })
    await opened()
  }

  it('shows who would change band before it is changed, and asks', async () => {
    await open(7)
    expect(shown.control('Save changes').disabled).toBe(true)
    const points = shown.controls('Points')[0] as HTMLInputElement
    points.value = '12'
    points.dispatchEvent(new Event('input', { bubbles: true }))
    await flushPromises()
    server.answers('POST /scorecards/7/moves', {
      people: 2400,
      moved: 310,
      sampled: false,
      moves: [{ from: 'Cool', to: 'Warm', people: 310 }],
    })
    await shown.press('Save changes')
    await opened()
    expect(shown.text()).toContain('310 people of 2,400 change band.')
    expect(shown.text()).toContain('from Cool to Warm: 310')
    expect(server.sent('POST /scorecards/7')).toEqual([])

    server.answers('POST /scorecards/7', { id: 7, work: 3 })
    shown.controls('Save and recalculate').at(-1)!.click()
    await opened()
    const [sent] = server.sent('POST /scorecards/7') as ScorecardEdit[]
    expect(sent?.card.behaviours[0]?.points).toBe(12)
  })

  it('that makes no sense is said before anything is asked of the server', async () => {
    await open(7)
    await shown.fill(/^Name$/, '')
    await shown.press('Save changes')
    expect(shown.text()).toContain('Give the scorecard a name')
    expect(server.sent('POST /scorecards/7/moves')).toEqual([])
  })

  it('keeps what was typed when the server refuses it', async () => {
    await open(7)
    await shown.fill(/^Name$/, 'Warmth')
    server.answers('POST /scorecards/7/moves', { people: 0, moved: 0, sampled: false, moves: [] })
    server.refuses('POST /scorecards/7', { status: 409, title: 'This scorecard name is taken' })
    await shown.press('Save changes')
    await opened()
    shown.controls('Save and recalculate').at(-1)!.click()
    await opened()
    expect(shown.text()).toContain('This scorecard name is taken')
    expect(shown.control(/^Name$/).value).toBe('Warmth')
  })

  it('is made anew with bands to begin with, and opens', async () => {
    await open(null)
    expect(shown.text()).toContain('New scorecard')
    await shown.fill(/^Name$/, 'Warmth')
    server.answers('POST /scorecards', { id: 8, work: 3 })
    await shown.press('Create scorecard')
    await opened()
    shown.controls('Create scorecard').at(-1)!.click()
    await opened()
    const [sent] = server.sent('POST /scorecards') as ScorecardEdit[]
    expect(sent?.card.bands.map(({ name }) => name)).toEqual(['Cool', 'Warm', 'Hot'])
    expect(shown.router.currentRoute.value.path).toBe('/people/scorecards/8')
  })

  it('says which of its rules give no points any more', async () => {
    await open(7, { ...saved, missing: ['the email something deleted (4)'] })
    expect(shown.text()).toContain('Refers to the email something deleted (4): that rule gives no points.')
  })

  it('is deleted only when that is said twice', async () => {
    await open(7)
    await shown.press('Delete')
    await opened()
    expect(server.sent('POST /scorecards/7/delete')).toEqual([])
    server.answers('POST /scorecards/7/delete', undefined)
    await shown.press('Delete scorecard')
    await opened()
    expect(server.sent('POST /scorecards/7/delete')).toHaveLength(1)
    expect(shown.router.currentRoute.value.path).toBe('/people/scorecards')
  })
})
