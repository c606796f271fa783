import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { deadline } from '../../core/commerce/deadline.ts'
import { emptySite, fakeServer, pressButton, show, submitDialog, typeInDialog } from '../../testing/screen.ts'
import DeadlineList from './DeadlineList.vue'

const settle = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(1_200)
  await flushPromises()
}
const row = (id: number, given: object) => ({
  ...deadline.parse({ begins: 'visit', ...given }),
  id,
  running: 12,
  over: 340,
  changedAt: '2026-11-24T09:00:00.000Z',
})
const press = async (words: string): Promise<void> => {
  pressButton(words)
  await settle()
}

beforeEach(() => {
  vi.useFakeTimers()
  vi.setSystemTime('2027-01-31T10:00:00Z')
})
afterEach(() => vi.useRealTimers())

describe('the list of deadlines', () => {
  it('says how each begins, how long it runs, and for how many; one is made in a dialog', async () => {
    const server = fakeServer()
    server.answers('GET /site', emptySite())
    server.answers('GET /deadlines', [
      row(1, {
        name: 'Workshop, once more',
        runs: { by: 'length', lasts: { amount: 14, unit: 'minutes' } },
      }),
      row(2, {
        name: 'New year',
        begins: 'sending',
        runs: { by: 'date', at: '2027-02-01T00:00:00.000Z' },
      }),
      row(3, { name: 'Early', begins: 'followup' }),
    ])
    server.answers('POST /deadlines', { id: 4 })
    server.refuses('POST /deadlines/1/save', {
      title: 'A deadline keeps its name',
      fields: { name: 'It stays' },
    })
    const shown = await show(DeadlineList, {})
    await settle()
    const text = shown.wrapper.text()
    for (const each of ['14 minutes', 'the first look at a page of it', 'as the step says', '340', 'until'])
      expect(text).toContain(each)
    await press('New deadline')
    typeInDialog('Autumn offer')
    await settle()
    submitDialog()
    await settle()
    expect(server.sent('POST /deadlines')[0]).toEqual({
      name: 'Autumn offer',
      begins: 'visit',
      runs: { by: 'length', lasts: { amount: 3, unit: 'days' } },
      afterwards: { to: 'nowhere' },
    })
    await press('Edit Workshop, once more')
    submitDialog()
    await settle()
    expect(document.querySelector('.v-dialog')?.textContent).toContain('It stays')
  })
})
