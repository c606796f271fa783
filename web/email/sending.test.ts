import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import type { NamedLinkView } from '../../contract/namedLinks.ts'
import type { SenderView } from '../../contract/sending.ts'
import { emptySite, fakeServer, show, type FakeServer, type Shown } from '../../testing/screen.ts'
import MachineClicks from './MachineClicks.vue'
import NamedLinks from './NamedLinks.vue'
import SendingSettings from './SendingSettings.vue'

let server: FakeServer
let shown: Shown

const senders: SenderView[] = [
  { id: 1, name: 'Mara Ellery', address: 'mara@q.test', confirmed: true, usual: true, usedIn: [] },
  { id: 2, name: 'Ilse Varga', address: 'ilse@q.test', confirmed: false, usual: false, usedIn: ['email A'] },
  { id: 3, name: 'Shop', address: 'shop@q.test', confirmed: true, usual: false, usedIn: [] },
]
const rules = { perMinute: null, quiet: null, weekdays: [1, 2, 3, 4, 5, 6, 7], aDay: null, aWeek: null }
const site = emptySite({ pages: [{ id: 3, name: 'Sunday', path: 'sunday', purpose: 'any', live: true }] })

beforeEach(() => {
  server = fakeServer()
  server.answers('GET /outbox/counts', { queue: 0, problems: 0 })
  server.answers('GET /senders', senders)
  server.answers('GET /sending-rules', rules)
})

describe('senders', () => {
  beforeEach(async () => {
    shown = await show(SendingSettings)
    await flushPromises()
  })

  it('are told apart by whether their address has said yes', () => {
    expect(shown.text()).toMatch(
      /Mara Ellery.*usual sender.*Ilse Varga.*Used in email A\..*not confirmed.*Shop.*confirmed/,
    )
  })

  it('are added by name and address, and asked by email', async () => {
    server.answers('POST /senders', { id: 4 })
    await shown.press('New sender')
    await shown.fill('Name that readers see', 'The bench')
    await shown.fill('Address', 'bench@q.test')
    await shown.press('Add and ask the address')
    await flushPromises()
    expect(server.sent('POST /senders')).toEqual([{ name: 'The bench', address: 'bench@q.test' }])
    expect(shown.text()).toContain('A link is on its way to bench@q.test.')
  })

  it('keep what was typed when the address is none', async () => {
    server.refuses('POST /senders', { status: 422, title: 'This is no email address' })
    await shown.press('New sender')
    await shown.fill('Name that readers see', 'The bench')
    await shown.fill('Address', 'bench')
    await shown.press('Add and ask the address')
    await flushPromises()
    expect(shown.text()).toContain('This is no email address')
    expect(shown.control('Address').value).toBe('bench')
  })
})

describe('rules for marketing', () => {
  it('are set, and what is no limit is said where it was typed', async () => {
    server.answers('POST /sending-rules', null)
    shown = await show(SendingSettings)
    await flushPromises()
    await shown.press('Quiet hours, where the reader is')
    await shown.fill('No marketing from', '22:00')
    await shown.fill('At most a day to one person', '0')
    await shown.press('Save rules')
    expect(shown.text()).toContain('At least 1')
    expect(server.sent('POST /sending-rules')).toEqual([])
    await shown.fill('At most a day to one person', '2')
    await shown.press('Save rules')
    await flushPromises()
    expect(server.sent('POST /sending-rules')).toEqual([
      { ...rules, aDay: 2, quiet: { from: '22:00', to: '08:00' } },
    ])
    expect(shown.text()).toContain('saved')
  })
})

describe('named links', () => {
  const link: NamedLinkView = {
    id: 5,
    name: 'Yes, that is me',
    target: { to: 'page', page: 3 },
    actions: [{ does: 'confirmAddress' }],
    people: 12,
    strangers: 3,
    machines: 40,
    usedIn: ['email Sunday'],
  }
  beforeEach(async () => {
    server.answers('GET /site', site)
    server.answers('GET /named-links', [link])
    shown = await show(NamedLinks)
    await flushPromises()
  })

  it('say what a click does and how often it was followed, by whom', () => {
    expect(shown.text()).toMatch(/Yes, that is me.*confirm the address.*12.*3.*40.*email Sunday/)
  })

  it('are not deleted while something leads by them, and it says so', async () => {
    server.refuses('POST /named-links/5/delete', { status: 409, title: '“Yes, that is me” is in use' })
    await shown.press('Delete Yes, that is me')
    await shown.press('Delete link')
    await flushPromises()
    expect(shown.text()).toContain('is in use')
  })

  it('are renamed with where they lead and what they do', async () => {
    server.answers('POST /named-links/5/save', null)
    await shown.press('Edit Yes, that is me')
    await shown.fill('Name', 'Yes, it is me')
    await shown.press('Save')
    await flushPromises()
    expect(server.sent('POST /named-links/5/save')).toEqual([
      { name: 'Yes, it is me', target: link.target, actions: link.actions },
    ])
  })
})

describe('clicks by machines', () => {
  it('are told with what gave them away, and read again as those of people', async () => {
    const click = {
      id: 9,
      contact: 4,
      name: 'Orla Byrne',
      label: 'See the bench',
      agent: 'MailScanner/1.0',
      undecided: false,
      at: '2026-11-24T10:00:00.000Z',
    }
    server.answers('GET /emails/7/machine-clicks', [click, { ...click, id: 10, undecided: true }])
    server.answers('POST /emails/7/machine-clicks/9/person', null)
    shown = await show(MachineClicks, { id: 7, modelValue: true })
    await flushPromises()
    expect(shown.text()).toMatch(/Orla Byrne.*See the bench.*MailScanner.*known in a moment/)
    server.answers('GET /emails/7/machine-clicks', [])
    shown.controls('It was a person: Orla Byrne, See the bench')[0]!.click()
    await flushPromises()
    expect(server.sent('POST /emails/7/machine-clicks/9/person')).toHaveLength(1)
    expect(shown.text()).toContain('No machine has followed a link')
  })
})
