import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { WorkView } from '../../contract/work.ts'
import { fakeServer, modelOf, show, type FakeServer, type Shown } from '../../testing/screen.ts'
import SignIn from '../workspace/SignIn.vue'
import ClockStrip from './ClockStrip.vue'
import GoAnywhere from './GoAnywhere.vue'
import KeyboardHelp from './KeyboardHelp.vue'
import MenuButton from './MenuButton.vue'
import { useCursorPages } from '../paging.ts'
import PageSteps from './PageSteps.vue'
import QuickDialog from './QuickDialog.vue'
import { useRehearsal } from './rehearsal.ts'
import WorkBar from './WorkBar.vue'

let server: FakeServer
let shown: Shown
beforeEach(() => {
  vi.useFakeTimers({ now: Date.parse('2026-11-24T10:00:00Z') })
  server = fakeServer()
})
afterEach(() => {
  vi.restoreAllMocks()
  vi.useRealTimers()
})
const settle = async (ms = 300): Promise<void> => {
  await vi.advanceTimersByTimeAsync(ms)
  await flushPromises()
}

describe('a menu of the line', () => {
  it('is loaded when it is first opened, and tried again when it could not be', async () => {
    vi.spyOn(console, 'error').mockImplementation(() => undefined)
    const load = vi.fn().mockRejectedValueOnce(new TypeError('away')).mockResolvedValue(KeyboardHelp)
    shown = await show(MenuButton, { menu: load, text: 'Help' })
    expect(load).not.toHaveBeenCalled()
    await shown.press('Help')
    await settle()
    expect(shown.text()).not.toContain('go to anything')
    await shown.press('Help')
    await settle()
    expect(shown.text()).toContain('go to anything')
    expect(load).toHaveBeenCalledTimes(2)
  })
})

describe('long work', () => {
  const work = (part: Partial<WorkView>): WorkView => ({
    id: 1,
    kind: 'import',
    title: 'Import Spring fair.csv',
    state: 'running',
    step: 'adding people',
    done: 300_000,
    total: 1_200_000,
    said: '',
    ...part,
  })

  it('tells on every screen how far it is, and is looked at again as long as it runs', async () => {
    server.answers('GET /work', [work({})])
    shown = await show(WorkBar)
    expect(shown.text()).toContain('adding people: 25 % (300,000 of 1,200,000)')
    server.answers('GET /work', [work({ state: 'done', said: '1200000 added, 0 updated.' })])
    await settle(2_100)
    expect(shown.text()).toContain('1200000 added, 0 updated.')
    const asked = server.asked.length
    await settle(10_000)
    expect(server.asked).toHaveLength(asked)
  })

  it('that reads a file counts no bytes at people, and that does not know its end says its step', async () => {
    server.answers('GET /work', [
      work({ step: 'reading the file' }),
      work({ id: 2, step: 'comparing with the list', total: null }),
    ])
    shown = await show(WorkBar)
    expect(shown.text()).toContain('reading the file: 25 %')
    expect(shown.text()).not.toContain('300,000')
    expect(shown.text()).toContain('comparing with the list')
    expect(shown.page.querySelectorAll('[role=progressbar]')).toHaveLength(1)
  })

  it('is cancelled, and put aside once it was seen', async () => {
    server.answers('GET /work', [work({}), work({ id: 2, state: 'failed', said: 'The disk is full.' })])
    server.answers('POST /work/1/cancel', undefined)
    shown = await show(WorkBar)
    await shown.press('Cancel')
    expect(server.sent('POST /work/1/cancel')).toHaveLength(1)
    expect(shown.text()).toContain('The disk is full.')
    await shown.press('Dismiss')
    expect(shown.text()).not.toContain('The disk is full.')
  })
})

describe('the clock strip', () => {
  const strip = {
    now: '2026-11-24T10:03:00.000Z',
    zone: 'Europe/Dublin',
    nextDeparture: { at: '2026-11-24T10:06:00.000Z', people: 14, what: 'Your template pack' },
    sender: { state: 'clear', waiting: 0 },
    workers: 1,
  }

  it('shows the server’s time, not the browser’s, and counts on from it', async () => {
    server.answers('GET /clock-strip', strip)
    shown = await show(ClockStrip)
    expect(shown.text()).toContain('10:03')
    expect(shown.text()).toContain('Next departure in 3 min: 14 people, Your template pack')
    server.refuses('GET /clock-strip', { status: 500, title: 'Something went wrong' })
    await settle(61_000)
    expect(shown.text()).toContain('10:04')
    expect(shown.text()).toContain('Something went wrong')
  })

  it.each([
    [{ sender: { state: 'waiting', waiting: 1200 } }, 'mail: 1,200 waiting'],
    [{ sender: { state: 'stopped', waiting: 3 } }, 'mail is held up, 3 waiting'],
    [{ workers: 0 }, 'no worker running'],
    [{ workers: 2 }, '2 workers'],
    [{ nextDeparture: null }, 'No departures planned'],
  ])('tells the state in words: %j', async (part, words) => {
    server.answers('GET /clock-strip', { ...strip, ...part })
    shown = await show(ClockStrip)
    expect(shown.text()).toContain(words)
  })

  it('shows a rehearsal’s clock while one is looked at', async () => {
    server.answers('GET /clock-strip', strip)
    shown = await show(ClockStrip)
    useRehearsal().stage = { id: 7, name: 'Nia', now: '2026-12-01T09:00:00.000Z' }
    await flushPromises()
    expect(shown.text()).toContain('Rehearsal: Nia’s clock shows Tue 1 Dec 09:00')
    expect(shown.page.querySelector('.strip')?.classList.contains('amber')).toBe(true)
  })
})

describe('going anywhere', () => {
  const label = 'Go to a screen, a person or a follow-up'
  const key = async (name: string): Promise<void> => {
    shown
      .control(label)
      .dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true, cancelable: true }))
    await settle()
  }

  it('finds screens at once and people from the server, and goes there by keyboard', async () => {
    server.answers('GET /search', [])
    server.answers('GET /search?q=outi', [
      { kind: 'person', title: 'Outi Alder', detail: 'outi@postbox.test', to: '/people/12' },
    ])
    shown = await show(GoAnywhere, { modelValue: true })
    await settle()
    await shown.type(label, 'out')
    expect(await shown.offered(label)).toEqual(['Outbox'])
    await shown.type(label, 'outi')
    await settle()
    expect(await shown.offered(label)).toEqual(['Outi Alder'])
    await key('Enter')
    expect(shown.router.currentRoute.value.path).toBe('/people/12')
    expect(modelOf(shown, GoAnywhere)).toBe(false)
  })

  it('says that there are no results', async () => {
    server.answers('GET /search', [])
    server.answers('GET /search?q=zzz', [])
    shown = await show(GoAnywhere, { modelValue: true })
    await settle()
    await shown.type(label, 'zzz')
    await settle()
    expect(shown.text()).toContain('No results for “zzz”')
    await key('Enter')
    expect(shown.router.currentRoute.value.path).toBe('/')
  })
})

describe('steps through pages', () => {
  it('say where one is, and go no further than there is something', async () => {
    const pages = useCursorPages(50)
    shown = await show(PageSteps, { pages, shown: 50, next: 'b' })
    expect(shown.text()).toContain('1–50')
    expect(shown.control('Previous').disabled).toBe(true)
    await shown.press('Next')
    expect(shown.text()).toContain('51–100')
    expect(pages.after.value).toBe('b')
    await shown.press('Previous')
    expect(pages.after.value).toBeNull()
    pages.next(null)
    expect(pages.hasPrevious.value).toBe(false)
    shown = await show(PageSteps, { pages, shown: 20, next: null })
    expect(shown.control('Next').disabled).toBe(true)
  })
})

describe('a small form', () => {
  it('is submitted by its button or by Enter, and closed by Cancel', async () => {
    const submitted = vi.fn()
    shown = await show(QuickDialog, {
      modelValue: true,
      title: 'Delete?',
      submitLabel: 'Delete',
      onSubmit: submitted,
    })
    await settle()
    shown.page.querySelector('form')!.dispatchEvent(new Event('submit', { cancelable: true }))
    expect(submitted).toHaveBeenCalledTimes(1)
    await shown.press('Cancel')
    expect(modelOf(shown, QuickDialog)).toBe(false)
  })
})

/** The server lets Mara in. */
function letMaraIn(): void {
  server.answers('POST /auth/sign-in', undefined)
  server.answers('GET /auth/me', {
    account: { name: 'Mara', address: 'mara@quillfeather.example' },
    business: {
      name: 'Q',
      zone: 'Europe/Dublin',
      currency: 'EUR',
      senderName: 'M',
      senderAddress: 'm@q.test',
    },
    csrfToken: 't',
  })
}

describe('signing in', () => {
  it('asks for what is missing before it asks the server, and goes on to where one wanted to go', async () => {
    shown = await show(SignIn, {}, { path: '/sign-in?to=/people/7' })
    await settle()
    const submit = async (): Promise<void> => {
      shown.page.querySelector('form')!.dispatchEvent(new Event('submit', { cancelable: true }))
      await settle()
    }
    await submit()
    expect(shown.text()).toContain('Type the email address you sign in with')
    expect(server.asked).toEqual([])
    await shown.fill('Email address', 'mara@quillfeather.example')
    await shown.fill('Password', 'wrong')
    server.refuses('POST /auth/sign-in', { status: 401, title: 'Email address or password is wrong' })
    await submit()
    expect(shown.text()).toContain('Email address or password is wrong')
    expect(shown.control('Email address').value).toBe('mara@quillfeather.example')

    letMaraIn()
    await submit()
    expect(shown.router.currentRoute.value.path).toBe('/people/7')
  })

  it('leads to no other site', async () => {
    shown = await show(SignIn, {}, { path: '/sign-in?to=//elsewhere.test/' })
    letMaraIn()
    await shown.fill('Email address', 'a@b.test')
    await shown.fill('Password', 'x')
    shown.page.querySelector('form')!.dispatchEvent(new Event('submit', { cancelable: true }))
    await settle()
    expect(shown.router.currentRoute.value.path).toBe('/today')
  })
})
