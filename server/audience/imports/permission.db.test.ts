import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import type { ImportView, ImportRow } from '../../../contract/audience/imports.ts'
import { openInstall, type TestInstall } from '../../../testing/install.ts'
import { signedIn, type Marketer } from '../../../testing/marketer.ts'
import { importAll, made, snapshot, tryOut, upload, workEnded } from '../../../testing/people.ts'
import { mailFor, postForm } from '../../../testing/visitor.ts'

let install: TestInstall
let mara: Marketer
beforeAll(async () => {
  install = await openInstall()
  await install.startWorker()
  mara = await signedIn(install.url)
})
afterAll(() => install.close())

const q = () => install.platform.database
const states = async () =>
  Object.fromEntries(
    (
      await q().rows<{ key: string; state: string }>(
        'select address_key key, marketing_state state from contact order by 1',
      )
    ).map(({ key, state }) => [key, state]),
  )
const ledger = (key: string) =>
  q().rows(
    `select given, wording, consent.source from consent join contact on contact.id = contact_id
     where address_key = $1 order by consent.id`,
    [key],
  )
const undo = async (id: number) =>
  workEnded(mara, (await made<{ work: number }>(mara.post(`/imports/${id}/undo`))).work)

/** One person in each state that a file can meet. */
const everyState = ['subscribed', 'waiting', 'neverAsked', 'unsubscribed', 'bounced', 'complained']
const everybody = `email\n${[...everyState, 'new'].map((state) => `${state}@states.test`).join('\n')}\n`

beforeEach(async () => {
  await q().rows('delete from contact')
  for (const state of everyState)
    await q().rows(
      `insert into contact (address, address_key, marketing_state, created_at, updated_at)
       values ($1, lower($1), $2, now(), now())`,
      [`${state}@states.test`, state],
    )
})

describe('what a list says of permission', () => {
  it.each([
    ['agreed', { subscribed: 'subscribed', neverAsked: 'subscribed', new: 'subscribed' }],
    ['notAsked', { subscribed: 'subscribed', neverAsked: 'neverAsked', new: 'neverAsked' }],
    [
      'refused',
      {
        subscribed: 'unsubscribed',
        waiting: 'unsubscribed',
        neverAsked: 'unsubscribed',
        new: 'unsubscribed',
      },
    ],
  ] as const)('leaves people in the right state: %s', async (permission, becomes) => {
    await importAll(mara, everybody, { permission })
    const expected: Record<string, string> = {
      waiting: 'waiting',
      // Who said no, whose mailbox is gone, and who complained stays so whatever a file says.
      unsubscribed: 'unsubscribed',
      bounced: 'bounced',
      complained: 'complained',
      ...becomes,
    }
    expect(await states()).toEqual(
      Object.fromEntries(
        Object.entries(expected).map(([name, state]) => [`${name.toLowerCase()}@states.test`, state]),
      ),
    )
  })

  it('is in the ledger of who changed by it, with the words and the file', async () => {
    await importAll(mara, everybody, {
      permission: 'refused',
      statement: 'Removed themselves from our old newsletter',
    })
    const refusal = {
      given: false,
      wording: 'Removed themselves from our old newsletter',
      source: 'import of people.csv',
    }
    expect(await ledger('subscribed@states.test')).toEqual([refusal])
    expect(await ledger('new@states.test')).toEqual([refusal])
    expect(await ledger('unsubscribed@states.test')).toEqual([])
    const journal = await q().rows<{ kind: string }>(
      `select kind from activity join contact on contact.id = contact_id where address_key = $1`,
      ['new@states.test'],
    )
    expect(journal.map(({ kind }) => kind).sort()).toEqual(['contactAdded', 'unsubscribed'])
  })

  it('when they refused is taken back as a whole, unless somebody has come back by themselves', async () => {
    const before = await snapshot(install)
    const { id } = await importAll(mara, everybody, { permission: 'refused' })
    await undo(id)
    expect(await snapshot(install)).toEqual(before)
    expect(
      await q().rows(
        `select 1 from activity where (details->>'import')::int = $1 and kind = 'unsubscribed'`,
        [id],
      ),
    ).toEqual([])

    const again = await importAll(mara, everybody, { permission: 'refused' })
    await postForm(install.url, { address: 'subscribed@states.test' })
    const [mail] = await mailFor(install, 'subscribed@states.test')
    await fetch(/https?:\S+\/confirm\/\S+/.exec(mail!.text)![0], { method: 'POST', redirect: 'manual' })
    await undo(again.id)
    expect((await states())['subscribed@states.test']).toBe('subscribed')
  })

  it('starts no follow-up and joins no topic for who refused, even when that is ticked', async () => {
    const topic = await made<{ id: number }>(
      mara.post('/topics', { name: 'Session news', description: 'When the next one is', archived: false }),
    )
    await q().rows(
      `update followup set program = jsonb_set(program, '{startsWhen}', '[{"kind": "tagAdded", "tag": ${install.ids.tag}}]')`,
    )
    await importAll(mara, everybody, {
      permission: 'refused',
      tags: ['Template pack'],
      topics: [topic.id],
      startFollowups: true,
    })
    expect(
      await q().rows(`select 1 from graphile_worker.jobs where task_identifier = 'startFollowups'`),
    ).toEqual([])
    expect(await q().rows('select 1 from enrolment')).toEqual([])
    expect(await q().rows('select 1 from contact_topic')).toEqual([])
  })

  it('cannot be that they refused while those on the list are left as they are', async () => {
    const { id } = await upload(mara, everybody)
    const { choices } = await mara.get<ImportView>(`/imports/${id}`)
    const answer = await mara.post(`/imports/${id}/check`, {
      ...choices,
      permission: 'refused',
      existing: 'skip',
      statement: 'Our old suppression list',
    })
    expect(answer.status).toBe(422)
    expect(await answer.json()).toMatchObject({
      fields: { existing: 'People who refused cannot be left unchanged: choose “Fill in blanks only”' },
    })
  })
})

describe('an upload', () => {
  it('that breaks off leaves nothing, and nobody sees it while it is on its way', async () => {
    const before = await mara.get<ImportRow[]>('/imports')
    // A body that ends in an error, as when the browser is closed in the middle.
    let push: (chunk: Uint8Array) => void = () => undefined
    let fail: (error: Error) => void = () => undefined
    const body = new ReadableStream<Uint8Array>({
      start(controller) {
        push = (chunk) => controller.enqueue(chunk)
        fail = (error) => controller.error(error)
      },
    })
    const sending = mara.stream('/imports?name=broken.csv', body).catch(() => null)
    push(new TextEncoder().encode('email\n'.padEnd(2_000_000, 'somebody@postbox.test\n')))
    await expect
      .poll(() => q().row<{ n: number }>(`select count(*)::int n from import where state = 'uploading'`))
      .toEqual({ n: 1 })
    expect(await mara.get('/imports')).toEqual(before)
    const underway = await q().row<{ id: number }>(`select id from import where state = 'uploading'`)
    expect((await mara.download(`/imports/${underway?.id}`)).status).toBe(404)
    fail(new Error('closed'))
    await sending
    await expect.poll(() => q().rows('select 1 from import where id = $1', [underway?.id])).toEqual([])
    expect(await q().rows('select n from import_chunk where import_id = $1', [underway?.id])).toEqual([])
  })

  it('that nobody goes on with keeps its counts of the last try', async () => {
    const { id, view } = await tryOut(mara, everybody, { permission: 'agreed' })
    expect(view.counts).toMatchObject({ added: 1, changed: 1, keptUnsubscribed: 3 })
    expect((await mara.get<ImportView>(`/imports/${id}`)).counts).toEqual(view.counts)
  })
})
