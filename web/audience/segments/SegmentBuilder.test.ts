import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { listed } from '../../../testing/peopleShown.ts'
import { fakeServer, show, type FakeServer, type Shown } from '../../../testing/screen.ts'
import { vocabulary } from '../../../testing/vocabulary.ts'
import SegmentBuilder from './SegmentBuilder.vue'
import type { Group } from './subjects.ts'

let server: FakeServer
let shown: Shown
const settle = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(300)
  await flushPromises()
}
const open = async (tree: Group): Promise<void> => {
  shown = await show(SegmentBuilder, { modelValue: tree })
  await settle()
}

beforeEach(() => {
  vi.useFakeTimers()
  server = fakeServer()
  server.answers('GET /vocabulary', vocabulary)
  server.answers('POST /people/count', ({ body }: { body: unknown }) => ({
    people: 100 - JSON.stringify(body).length,
  }))
  server.answers('POST /people/sample', {
    rows: [listed(1, { name: 'Nia' }), listed(2, { name: '', address: 'no-name@postbox.test' })],
    sentence: 'has the tag “Template pack”',
    missing: [],
  })
})
afterEach(() => vi.useRealTimers())

const tagged: Group = { kind: 'all', of: [{ kind: 'hasTag', tag: 1 }] }

describe('a condition being written', () => {
  const explain = async (name: string): Promise<void> => {
    ;[...shown.page.querySelectorAll<HTMLElement>('.sample .v-chip')]
      .find((chip) => chip.textContent.trim() === name)!
      .click()
    await flushPromises()
  }

  it('says how many are meant and shows some of them', async () => {
    await open(tagged)
    expect(shown.text()).toContain(`${100 - JSON.stringify({ tree: tagged }).length} people`)
    expect(shown.text()).toContain('no-name@postbox.test')
  })

  it('counts once for several quick changes, and for the last of them', async () => {
    await open(tagged)
    const before = server.sent('POST /people/count').length
    await shown.press('Add condition')
    await shown.choose('And or or', 'or')
    await shown.press('Remove line 2')
    expect(server.sent('POST /people/count')).toHaveLength(before)
    await settle()
    expect(server.sent('POST /people/count').slice(before)).toEqual([{ tree: { ...tagged, kind: 'any' } }])
  })

  it('asks about nothing before every line is filled in', async () => {
    server.answers('GET /vocabulary', { ...vocabulary, names: { ...vocabulary.names, tags: {} } })
    await open(tagged)
    const before = server.sent('POST /people/count').length
    await shown.press('Add condition')
    await settle()
    expect(shown.text()).toContain('Fill in every condition to count')
    expect(server.sent('POST /people/count')).toHaveLength(before)
    await shown.press('Remove line 2')
    await settle()
    expect(shown.text()).toContain(' people')
  })

  it('waits for the words that a new line begins with', async () => {
    let arrive: (words: unknown) => void = () => undefined
    server.answers('GET /vocabulary', () => new Promise((resolve) => (arrive = resolve)))
    await open({ kind: 'all', of: [] })
    await shown.choose('Condition', 'has the tag')
    expect(server.sent('POST /people/count')).toEqual([{ tree: { kind: 'all', of: [] } }])
    arrive(vocabulary)
    await settle()
    expect(server.sent('POST /people/count').at(-1)).toEqual({ tree: tagged })
  })

  it('says what is in the way instead of a number', async () => {
    server.refuses('POST /people/count', {
      status: 409,
      title: 'This condition is incomplete',
      detail: 'The condition speaks of the tag something deleted (77).',
    })
    await open({ kind: 'all', of: [{ kind: 'hasTag', tag: 77 }] })
    expect(shown.text()).toContain('This condition is incomplete')
    expect(shown.text()).toContain('something deleted (77)')
  })

  it('explains why somebody is meant, and anybody else by their address', async () => {
    await open(tagged)
    server.answers('POST /people/why', { holds: true, reason: 'has the tag “Template pack”: yes' })
    await explain('Nia')
    expect(server.sent('POST /people/why')).toEqual([{ tree: tagged, contact: 1 }])
    expect(shown.text()).toContain('Nia matches')

    server.answers('POST /people/find', { rows: [listed(9, { name: 'Bram' })], next: null })
    server.answers('POST /people/why', { holds: false, reason: 'has the tag “Template pack”: no' })
    await shown.fill('Why does somebody match?', 'bram')
    shown.page.querySelector('form')!.dispatchEvent(new Event('submit', { cancelable: true }))
    await flushPromises()
    expect(server.sent('POST /people/find')).toEqual([{ search: 'bram', size: 1 }])
    expect(shown.text()).toContain('Bram does not match')
  })

  it('says that nobody is found, and that the server is away, and lets one try again', async () => {
    await open(tagged)
    server.answers('POST /people/find', { rows: [], next: null })
    const ask = async (): Promise<void> => {
      shown.page.querySelector('form')!.dispatchEvent(new Event('submit', { cancelable: true }))
      await flushPromises()
    }
    await ask()
    expect(shown.text()).toContain('No results for')
    server.refuses('POST /people/find', { status: 503, title: 'The database is away', detail: '' })
    await ask()
    expect(shown.text()).toContain('The database is away')
    expect(shown.text()).not.toContain('No results for')
  })
})
