import { describe, expect, it } from 'vitest'
import { show } from '../../testing/screen.ts'
import DeparturesBoard from './DeparturesBoard.vue'

describe('the board of departures', () => {
  const at = '2026-11-24T10:00:00.000Z'
  const row = { at, what: '“Sunday, live”', from: 'broadcast', to: '/outbox/broadcasts/7', gone: false }
  const board = (departures: object[]) =>
    show(DeparturesBoard, { departures, now: at, zone: 'Europe/Dublin' })

  it('shows how far a broadcast is that is on its way', async () => {
    const shown = await board([{ ...row, people: 800, of: 2000 }])
    expect(shown.text()).toContain('1,200 of 2,000 sent')
    const bar = shown.page.querySelector('progress')
    expect([bar?.value, bar?.max, bar?.getAttribute('aria-label')]).toEqual([
      1200,
      2000,
      '“Sunday, live”, sent',
    ])
  })

  it('shows no progress of what has not begun, or is no broadcast', async () => {
    const shown = await board([
      { ...row, people: 2000, of: 2000 },
      { ...row, people: 3, what: 'Your file' },
    ])
    expect(shown.page.querySelector('progress')).toBeNull()
    expect(shown.text()).toContain('2,000')
  })
})
