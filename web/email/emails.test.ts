import { flushPromises } from '@vue/test-utils'
import { ref, shallowRef, computed } from 'vue'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { EmailRow, EmailView } from '../../contract/emails.ts'
import { composer } from '../../core/blocks/compose.ts'
import { emailLinks, emptyEmail, linkKey, type EmailContent } from '../../core/email/email.ts'
import { emailPoints } from '../../core/email/startingPoints.ts'
import { numberedIds } from '../../testing/documents.ts'
import { fakeServer, show, type FakeServer, type Shown } from '../../testing/screen.ts'
import type { Draft } from '../blocks/draft.ts'
import EmailInspector from './EmailInspector.vue'
import EmailList from './EmailList.vue'
import EmailPreview from './EmailPreview.vue'
import NewEmail from './NewEmail.vue'
import SendTest from './SendTest.vue'

const at = '2026-11-24T10:00:00.000Z'
let server: FakeServer
let shown: Shown
beforeEach(() => {
  server = fakeServer()
})

const rowOf = (words: string): HTMLTableRowElement | undefined =>
  [...shown.page.querySelectorAll<HTMLTableRowElement>('tbody tr')].find((each) =>
    each.textContent.includes(words),
  )
async function pressIn(words: string, action: string): Promise<void> {
  rowOf(words)!.querySelector<HTMLElement>('button')!.click()
  await flushPromises()
  await shown.press(action)
}

describe('the emails of the Library', () => {
  const row: EmailRow = {
    id: 1,
    name: 'Your template pack',
    subject: 'Here they are',
    purpose: 'transactional',
    topic: null,
    state: 'live',
    hasDraft: false,
    usedIn: ['follow-up Template pack'],
    sent: 1200,
    opened: 600,
    clicked: 300,
    changedAt: at,
  }
  const draft: EmailRow = {
    ...row,
    id: 2,
    name: 'Half written',
    subject: '',
    state: 'draft',
    usedIn: [],
    sent: 0,
    opened: 0,
    clicked: 0,
  }
  const archived: EmailRow = { ...draft, id: 3, name: 'Old letter', state: 'archived' }
  beforeEach(async () => {
    server.answers('GET /emails', [row, draft, archived])
    shown = await show(EmailList)
  })

  it('say what became of them, and a rate only where somebody was sent one', () => {
    expect(rowOf('Your template pack')?.textContent).toContain('1,200')
    expect(rowOf('Your template pack')?.textContent).toContain('50.0 %')
    expect(rowOf('Half written')?.textContent).toContain('no subject yet')
    expect(rowOf('Half written')?.textContent).not.toContain('too few')
  })

  it('are found by name or subject; those put away only when they are asked for', async () => {
    expect(rowOf('Old letter')).toBeUndefined()
    await shown.choose('State', 'Archived')
    expect(rowOf('Old letter')).toBeDefined()
    await shown.choose('State', 'Drafts and live')
    await shown.fill('Search by name or subject', 'HERE THEY')
    expect([rowOf('Your template pack') !== undefined, rowOf('Half written')]).toEqual([true, undefined])
  })

  it('are put away from the list', async () => {
    server.answers('POST /emails/2/archive', undefined)
    await pressIn('Half written', 'Archive')
    expect(server.sent('POST /emails/2/archive')).toEqual([{ archived: true }])
  })

  it('are copied, and the copy is opened', async () => {
    server.answers('POST /emails/2/copy', { id: 9 })
    await pressIn('Half written', 'Duplicate')
    expect(shown.router.currentRoute.value.path).toBe('/library/emails/9')
  })

  it('say why one that was sent is not deleted', async () => {
    server.refuses('POST /emails/1/delete', {
      status: 409,
      title: 'This email was sent',
      detail: 'It stays.',
    })
    await pressIn('Your template pack', 'Delete')
    await shown.press('Delete email')
    expect(shown.text()).toContain('This email was sent')
  })
})

describe('a new email', () => {
  it('begins from a starting point, with a greeting and guidance, and is opened', async () => {
    server.answers('POST /emails', { id: 7 })
    shown = await show(NewEmail, { modelValue: true })
    await shown.press('Make email')
    expect(shown.text()).toContain('Give it a name')
    expect(server.sent('POST /emails')).toEqual([])
    await shown.fill('Name', 'Welcome, you')
    await shown.press(/^Welcome ?Says who writes/)
    await shown.press('Make email')
    const [sent] = server.sent('POST /emails') as { name: string; content: EmailContent }[]
    expect(sent).toMatchObject({ name: 'Welcome, you', content: { purpose: 'marketing' } })
    expect(JSON.stringify(sent?.content.document)).toContain(
      'Who you are, as you would say it across a table',
    )
    await vi.waitFor(() => expect(shown.router.currentRoute.value.path).toBe('/library/emails/7'))
  })

  it('can begin from at least ten points, each with a name and words of its own', () => {
    expect(emailPoints.length).toBeGreaterThanOrEqual(10)
    expect(new Set(emailPoints.map(({ name }) => name)).size).toBe(emailPoints.length)
    expect(new Set(emailPoints.map(({ words }) => words)).size).toBe(emailPoints.length)
  })
})

describe('what can be set about an email', () => {
  const { block, text, section, document } = composer(numberedIds('inspect'))
  const content = emptyEmail({
    subject: 'Hello',
    document: document(
      section([
        {
          blocks: [text('Words'), block('button', { label: 'Go on', target: { to: 'path', path: '/p/a' } })],
        },
      ]),
    ),
  })
  const key = linkKey(emailLinks(content)[0]!)
  const view: EmailView = {
    id: 5,
    name: 'Letter',
    state: 'live',
    version: 1,
    revision: 1,
    savedAt: at,
    savedBy: 'Mara Ellery',
    changes: [],
    findings: [],
    others: [],
    publishedVersion: 1,
    usedIn: ['broadcast'],
    versions: [],
    content,
  }
  /** A draft that remembers what was written, and saves nothing. */
  function written(): Draft<EmailContent> {
    const now = shallowRef<EmailContent>(content)
    return {
      content: now,
      state: shallowRef(view),
      unsaved: ref(false),
      problem: ref(null),
      conflict: computed(() => false),
      save: () => Promise.resolve(true),
      set: (next) => (now.value = next),
    }
  }
  let draft: Draft<EmailContent>
  beforeEach(async () => {
    server.answers('GET /topics', [
      { id: 2, name: 'Session news', description: '', people: 9, archived: false },
      { id: 3, name: 'Old news', description: '', people: 1, archived: true },
    ])
    server.answers('GET /emails/5/links', [
      { id: 1, key, label: 'Go on', gone: false, people: 12, machines: 3 },
      { id: 2, key: 'gone link', label: 'Earlier', gone: true, people: 4, machines: 0 },
    ])
    draft = written()
    shown = await show(EmailInspector, { view, draft })
    await flushPromises()
  })

  it('is kept as it is typed: subject, preheader, why, kind and topic', async () => {
    await shown.fill('Subject', 'Another')
    await shown.fill('Preheader', 'Beside it')
    await shown.fill('Why people get it', 'You asked.')
    await shown.choose('Kind', 'Transactional')
    expect(await shown.offered('Topic')).toEqual(['No topic', 'Session news'])
    await shown.choose('Topic', 'Session news')
    expect(draft.content.value).toMatchObject({
      subject: 'Another',
      preheader: 'Beside it',
      why: 'You asked.',
      purpose: 'transactional',
      topic: 2,
    })
  })

  it('takes no address that is none, and keeps the one before', async () => {
    await shown.fill('Answers go to', 'answers@quillfeather.example')
    await shown.fill('Answers go to', 'nobody at all')
    expect(shown.text()).toContain('Use an address such as name@example.com')
    expect(draft.content.value.replyTo).toBe('answers@quillfeather.example')
  })

  it('begins a text part with what the blocks say, and goes back to that', async () => {
    server.answers('GET /emails/5/preview', {
      subject: 'Hello',
      preheader: '',
      text: 'Words\n\n--\nQuillfeather Bindery',
    })
    await shown.press('Write it yourself')
    expect(draft.content.value.text).toBe('Words')
    expect(shown.text()).toContain('{link 1} to {link 1} stand for the links')
    await shown.press('Write it yourself')
    expect(draft.content.value.text).toBeNull()
  })

  it('says how often each link was clicked, by machines too, and sets what a click does', async () => {
    expect(shown.text()).toContain('Clicked by 12 people, 3 times by machines')
    expect(shown.text()).toContain('“Earlier” stands here no more; 4 people clicked it.')
    await shown.press('Add')
    await shown.press('Join a topic')
    expect(draft.content.value.onClick).toEqual({ [key]: [{ does: 'joinTopic', topic: null }] })
    await shown.press('Remove “Join a topic”')
    expect(draft.content.value.onClick).toEqual({ [key]: [] })
  })
})

describe('trying an email out', () => {
  it('sends a test to oneself unless somebody else is chosen, and says that it is on its way', async () => {
    server.answers('GET /emails/team', [
      { id: 1, name: 'Mara Ellery', address: 'mara@quillfeather.example', isMe: true },
      { id: 2, name: 'Ilse Varga', address: 'ilse@quillfeather.example', isMe: false },
    ])
    server.answers('POST /people/find', { rows: [], next: null })
    server.refuses('POST /emails/5/test', { status: 422, title: 'Somebody of these has left the team' })
    shown = await show(SendTest, { modelValue: true, id: 5 })
    await flushPromises()
    await shown.press('Send test')
    expect(shown.text()).toContain('Somebody of these has left the team')
    server.answers('POST /emails/5/test', undefined)
    await shown.press('Send test')
    expect(server.sent('POST /emails/5/test').at(-1)).toEqual({ accounts: [1], person: null })
    expect(shown.text()).toContain('On its way')
  })

  it('shows the draft wide, dark, without pictures and as text', async () => {
    server.answers('POST /people/find', { rows: [], next: null })
    server.answers('GET /emails/5/preview', {
      subject: 'Hello you',
      preheader: 'Now',
      text: 'In plain words',
    })
    shown = await show(EmailPreview, { modelValue: true, id: 5 })
    await flushPromises()
    const source = (): string => shown.page.querySelector('iframe')?.getAttribute('src') ?? ''
    expect([shown.text().includes('Hello you'), source()]).toEqual([true, '/api/emails/5/preview-html'])
    await shown.press('Dark')
    expect(source()).toBe('/api/emails/5/preview-html?dark=yes')
    await shown.press('Pictures off')
    expect(source()).toBe('/api/emails/5/preview-html?pictures=off')
    await shown.press('Text')
    expect(shown.text()).toContain('In plain words')
  })
})
