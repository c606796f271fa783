import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { PersonView as Known } from '../../../contract/audience/people.ts'
import { known, listed } from '../../../testing/peopleShown.ts'
import { fakeServer, show, type FakeServer, type Shown } from '../../../testing/screen.ts'
import { useRehearsal } from '../../frame/rehearsal.ts'
import PersonView from './PersonView.vue'

let server: FakeServer
let shown: Shown
const settle = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(300)
  await flushPromises()
}
const open = async (part: Partial<Known> = {}): Promise<void> => {
  server.answers('GET /people/7', known(part))
  shown = await show(PersonView, { id: 7 })
  await settle()
}
beforeEach(() => {
  vi.useFakeTimers()
  server = fakeServer()
  server.answers('GET /people/7/enrolments', [])
  server.answers('GET /fields', [
    {
      id: 3,
      name: 'Binding',
      kind: 'oneOf',
      options: [
        { id: 'coptic', label: 'Coptic' },
        { id: 'case', label: 'Case' },
      ],
      archived: false,
      people: 1,
    },
    { id: 4, name: 'Old one', kind: 'text', options: [], archived: true, people: 1 },
  ])
  server.answers('GET /tags', [{ id: 1, name: 'Template pack', description: '', people: 1 }])
  server.answers('GET /topics', [
    { id: 9, name: 'Newsletter', description: '', people: 1, archived: false },
    { id: 10, name: 'Closed', description: '', people: 1, archived: true },
  ])
})
afterEach(() => vi.useRealTimers())

/** An entry of the ledger of which nothing more is known. */
const unproven = {
  topic: null,
  form: null,
  formVersion: null,
  page: null,
  pageVersion: null,
  site: null,
  ip: null,
  confirmedAt: null,
}

describe('a person', () => {
  it('is shown with what is known, in the words of today', async () => {
    await open()
    expect(shown.text()).toContain('Nia Fairburn')
    expect(shown.text()).toContain('Coptic')
    expect(shown.text()).toContain('Never asked.')
    expect(shown.text()).toContain('Not in any follow-up.')
  })

  it('has said yes and no, each with the words, the time and where', async () => {
    await open({
      consents: [
        {
          ...unproven,
          at: '2026-11-20T09:00:00.000Z',
          given: false,
          wording: 'Off, please',
          source: 'import of old.csv',
        },
        {
          ...unproven,
          at: '2026-01-20T09:00:00.000Z',
          given: true,
          wording: 'Yes, write to me',
          source: 'Template pack',
          form: 'Template pack',
          formVersion: 2,
          confirmedAt: '2026-01-20T09:05:00.000Z',
        },
      ],
    })
    const told = [...shown.page.querySelectorAll('.consents li')].map((line) =>
      line.textContent.replace(/\s+/g, ' ').trim(),
    )
    expect(told[0]).toMatch(/^Fri 20 Nov 09:00 declined, import of old\.csv ?Off, please$/)
    expect(told[1]).toMatch(
      /^Tue 20 Jan 09:00 given, Template pack ?Yes, write to me ?version 2, confirmed by email Tue 20 Jan 09:05$/,
    )
  })

  it('gets a tag by typing, and loses it by its cross', async () => {
    await open()
    server.answers('POST /people/7/tags', undefined)
    await shown.addChip('Add tag', ' Buyer ')
    await settle()
    await shown.press('Remove tag Template pack')
    expect(server.sent('POST /people/7/tags')).toEqual([{ add: ['Buyer'] }, { remove: [1] }])
    expect(shown.control('Add tag').value).toBe('')
  })

  it('joins and leaves topics that are offered, and says when that is refused', async () => {
    await open()
    expect(shown.controls('Closed')).toHaveLength(0)
    server.refuses('POST /people/7/topics', { status: 409, title: 'They have unsubscribed' })
    shown.control('Newsletter').click()
    await settle()
    expect(server.sent('POST /people/7/topics')).toEqual([{ topic: 9, agreed: true }])
    expect(shown.text()).toContain('They have unsubscribed')
  })

  it('in rehearsal turns the strip amber for as long as they are looked at', async () => {
    await open({ rehearsal: true })
    expect(useRehearsal().stage).toMatchObject({ id: 7, name: 'Nia' })
    shown.wrapper.unmount()
    expect(useRehearsal().stage).toBeNull()
  })

  it('in a follow-up shows what comes next, and in rehearsal jumps there', async () => {
    server.answers('GET /people/7/enrolments', [
      {
        id: 1,
        followup: { id: 6, name: 'Your template pack' },
        startedAt: '2026-11-22T10:00:00.000Z',
        endedAt: null,
        dueAt: '2026-11-26T09:05:00.000Z',
        next: 'Grain direction',
      },
      {
        id: 2,
        followup: { id: 8, name: 'Welcome' },
        startedAt: '2026-01-22T10:00:00.000Z',
        endedAt: '2026-02-01T10:00:00.000Z',
        dueAt: null,
        next: null,
      },
    ])
    await open({ rehearsal: true })
    expect(shown.text()).toMatch(/Grain direction next, Thu 26 Nov 09:05/)
    expect(shown.text()).toContain('Welcome until 1 Feb 2026')
    server.refuses('POST /people/7/jump', { status: 409, title: 'Nothing is due' })
    await shown.press('Jump to next')
    expect(shown.text()).toContain('Nothing is due')
  })
})

describe('the journal', () => {
  it('shows all, or one kind; and says when nothing of a kind has happened', async () => {
    const at = '2026-11-24T09:05:00.000Z'
    await open({
      journal: [
        { id: 'a', at, category: 'did', title: 'clicked in “Grain direction”', reason: '' },
        { id: 'b', at, category: 'mail', title: 'was sent “Grain direction”', reason: 'they asked for it' },
      ],
    })
    const lines = (): string[] =>
      [...shown.page.querySelectorAll('ol[aria-label^=Journal] li')].map((line) =>
        line.textContent.replace(/\s+/g, ' ').trim(),
      )
    expect(lines()).toHaveLength(2)
    await shown.press('Emails')
    expect(lines()).toEqual(['09:05was sent “Grain direction” they asked for it'])
    await shown.press('Decisions')
    expect(lines()).toEqual(['Nothing of this kind yet.'])
  })
})

describe('the score of a person', () => {
  it('says what it is made of, and when time alone changes it', async () => {
    await open({
      scores: [
        {
          scorecard: { id: 7, name: 'Interest' },
          score: 12.34,
          band: 'Warm',
          crossing: { at: '2026-12-01T08:00:00.000Z', band: 'Cool' },
          reasons: [
            { what: 'clicked in any email', times: 3, points: 12.3 },
            { what: 'unsubscribed', times: 1, points: -4 },
            { what: 'opened any email', times: 2, points: 0.01 },
          ],
        },
      ],
    })
    expect(shown.text()).toContain('12.3 Warm')
    expect(shown.text()).toContain('+12.3 clicked in any email, 3 times')
    expect(shown.text()).toContain('-4 unsubscribed')
    // Faded to nothing is no plus.
    expect(shown.text()).toMatch(/[^+]0 opened any email, 2 times/)
    expect(shown.text()).toMatch(/Cool from Tue 1 Dec 08:00 if nothing else happens/)
  })
})

describe('what can be done about a person', () => {
  it('is changing what is known, field by field, with faults at their place', async () => {
    await open()
    await shown.press('Edit')
    await settle()
    expect(shown.control('First name').value).toBe('Nia')
    expect(shown.shownIn('Binding')).toBe('Coptic')
    expect(shown.controls('Old one')).toHaveLength(0)
    await shown.fill('Phone, with country code', '12')
    await shown.choose('Binding', 'Case')
    server.refuses('POST /people/7', {
      status: 422,
      title: 'Some values are not valid',
      fields: { phone: '“12” is no phone number', 'fields.3': 'None of the choices' },
    })
    await shown.press('Save')
    expect(shown.text()).toContain('“12” is no phone number')
    expect(shown.text()).toContain('None of the choices')
    expect(server.sent('POST /people/7')).toMatchObject([{ phone: '12', fields: { 3: 'case' } }])
  })

  it('asks for each kind of field as it wants it, and sends those that were changed', async () => {
    const sizes = ['Small, square', 'Tall', 'Wide'].map((label, i) => ({ id: `size-${i}`, label }))
    const field = { archived: false, people: 1, options: [] }
    server.answers('GET /fields', [
      { ...field, id: 5, name: 'Sizes', kind: 'manyOf', options: sizes },
      { ...field, id: 6, name: 'Has a press', kind: 'yesNo' },
      { ...field, id: 8, name: 'First book', kind: 'date' },
      { ...field, id: 9, name: 'Note', kind: 'text' },
    ])
    await open({ fields: { 5: ['size-0', 'size-9'], 8: '2026-01-31', 9: 'kept' } })
    await shown.press('Edit')
    await settle()
    expect(shown.text()).toContain('size-9 (no longer offered)')
    expect(shown.control('First book').value).toBe('2026-01-31')
    await shown.choose('Sizes', 'Wide')
    await shown.choose('Has a press', 'yes')
    await shown.press('Save')
    // The choice that is not offered any more has gone with the change.
    expect(server.sent('POST /people/7')).toMatchObject([{ fields: { 5: 'size-0;size-2', 6: 'yes' } }])
    expect(Object.keys((server.sent('POST /people/7')[0] as { fields: object }).fields)).toEqual(['5', '6'])
  })

  const menu = async (item: string): Promise<void> => {
    await shown.press('More')
    await settle()
    await shown.press(item)
    await settle()
  }

  it('is merging with somebody else, who is found by typing; never with themselves', async () => {
    await open()
    await menu('Merge with another person')
    await shown.press('Merge')
    expect(shown.text()).toContain('Choose the other person')
    expect(server.sent('POST /people/7/merge')).toEqual([])
    server.answers('POST /people/find', { rows: [listed(7), listed(8, { name: 'N. Fairburn' })], next: null })
    await shown.type('Other person', 'fairburn')
    await settle()
    expect(await shown.offered('Other person')).toEqual(['N. Fairburn, person8@postbox.test'])
    await shown.choose('Other person', 'N. Fairburn, person8@postbox.test')
    server.answers('POST /people/7/merge', undefined)
    await shown.press('Merge')
    expect(server.sent('POST /people/7/merge')).toEqual([{ other: 8 }])
  })

  it('is erasing, which is asked twice and leads back to the list', async () => {
    await open()
    await menu('Erase')
    expect(server.sent('POST /people/7/erase')).toEqual([])
    server.answers('POST /people/7/erase', undefined)
    await shown.press('Erase permanently')
    await settle()
    expect(shown.router.currentRoute.value.path).toBe('/people')
  })

  it('is handing out all that is known, as JSON and CSV', async () => {
    await open()
    await shown.press('More')
    await settle()
    const hrefs = shown.controls(/^Export their data/).map((link) => link.getAttribute('href'))
    expect(hrefs).toEqual(['/api/people/7/data.json', '/api/people/7/data.csv'])
  })
})
