import { gzipSync } from 'node:zlib'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import type { ImportView } from '../../../contract/audience/imports.ts'
import { openInstall, type TestInstall } from '../../../testing/install.ts'
import { signedIn, type Marketer } from '../../../testing/marketer.ts'
import {
  agreedChoices,
  importAll,
  made,
  snapshot,
  tryOut,
  upload,
  workEnded,
} from '../../../testing/people.ts'
import { postForm } from '../../../testing/visitor.ts'
import { startWork } from '../../work/longWork.ts'
import type { Worker } from '../../work/worker.ts'

let install: TestInstall
let mara: Marketer
let worker: Worker
beforeAll(async () => {
  install = await openInstall()
  worker = await install.startWorker()
  mara = await signedIn(install.url)
  await made(
    mara.post('/fields', { name: 'Binding', kind: 'oneOf', options: [{ id: 'coptic', label: 'Coptic' }] }),
  )
  await made(mara.post('/fields', { name: 'Books sewn', kind: 'number' }))
})
afterAll(() => install.close())

const q = () => install.platform.database
beforeEach(async () => {
  await q().rows('delete from contact')
  await q().rows('delete from suppression')
})

const person = (key: string) =>
  q().row<Record<string, unknown> & { id: number }>('select * from contact where address_key = $1', [key])

const many = (count: number): string =>
  `email,first name\n${Array.from({ length: count }, (_, i) => `p${i}@many.test,Person ${i}`).join('\n')}\n`

describe('a file', () => {
  const people = 'Email;First name;Books sewn\r\nZoë@postbox.test;Zoë;3\r\nolé@postbox.test;Olé;4\r\n'
  const letters = people.replaceAll('Zoë@', 'zoe@').replaceAll('olé@', 'ole@')

  it.each([
    ['UTF-8', Buffer.from(letters)],
    ['UTF-8 with a mark', Buffer.from(`\ufeff${letters}`)],
    ['UTF-16 with a mark', Buffer.from(`\ufeff${letters}`, 'utf16le')],
    ['UTF-16 without one', Buffer.from(letters, 'utf16le')],
    ['UTF-16 the other way round', Buffer.from(`\ufeff${letters}`, 'utf16le').swap16()],
    ['Windows-1252', Buffer.from(letters, 'latin1')],
  ])('in %s is read with its letters, delimiter and columns found', async (_what, bytes) => {
    const { view } = await tryOut(mara, bytes)
    expect(view.format.delimiter).toBe(';')
    expect(view.format.columns).toEqual(['Email', 'First name', 'Books sewn'])
    expect(view.format.samples[0]).toEqual(['zoe@postbox.test', 'Zoë', '3'])
    expect(view.choices.columns.map(({ kind }) => kind)).toEqual(['builtIn', 'builtIn', 'own'])
    expect(view.counts).toMatchObject({ lines: 2, added: 2, invalid: 0 })
  })

  it('may have quoted line breaks, delimiters and quotes in its cells (RFC 4180 §2)', async () => {
    await importAll(
      mara,
      'email,first name,last name\r\na@postbox.test,"Two\r\nlines","O""Brien, the elder"\r\n',
    )
    expect(await person('a@postbox.test')).toMatchObject({
      first_name: 'Two\r\nlines',
      last_name: 'O"Brien, the elder',
    })
  })

  it.each([
    ['a spreadsheet', Buffer.from('504b030414000600', 'hex'), 'a spreadsheet or an archive'],
    ['a compressed file', gzipSync('email\na@b.test'), 'a compressed file'],
    ['bytes of any kind', Buffer.from([1, 0, 2, 0, 0, 9, 200, 0]), 'a file of another kind'],
    ['nothing', '', 'This file is empty'],
    ['only a head', 'email,name\r\n', 'This file has no people'],
  ])('that is %s is refused with what to do, and nothing is stored', async (_what, bytes, words) => {
    const before = (await mara.get<unknown[]>('/imports')).length
    const { status, title } = await upload(mara, bytes)
    expect(status).toBe(422)
    expect(title).toContain(words)
    expect(await mara.get<unknown[]>('/imports')).toHaveLength(before)
  })

  it('that is large and no CSV is refused in words, not by a broken connection', async () => {
    const { status, title } = await upload(
      mara,
      Buffer.concat([Buffer.from('504b0304', 'hex'), Buffer.alloc(30_000_000, 7)]),
    )
    expect([status, title]).toEqual([422, 'This is a spreadsheet or an archive, not a CSV file'])
  })

  it('with 10 MB in one cell is read up to there, says which line, and changes nothing', async () => {
    const { ended, view } = await tryOut(
      mara,
      `${many(20_000)}a@postbox.test,"${'x'.repeat(10_000_000)}\r\nb@postbox.test,y\r\n`,
    )
    expect(ended.state).toBe('failed')
    expect(ended.said).toMatch(
      /near line 20002 is longer than a million characters: probably a closing quotation mark/,
    )
    expect(view.state).toBe('uploaded')
    expect(await person('a@postbox.test')).toBeUndefined()
  })

  it('cannot send two columns to the same place, nor go without an address', async () => {
    const { id } = await upload(mara, 'email,mail\na@b.test,c@d.test\n')
    const address = { kind: 'builtIn', field: 'address' }
    for (const columns of [
      [address, address],
      [{ kind: 'skip' }, { kind: 'skip' }],
    ]) {
      const answer = await mara.post(`/imports/${id}/check`, { ...agreedChoices, columns })
      expect(answer.status).toBe(422)
      expect(await answer.json()).toMatchObject({
        fields: { columns: expect.stringContaining('column') as string },
      })
    }
    const silent = await mara.post(`/imports/${id}/check`, {
      ...agreedChoices,
      columns: [address, { kind: 'skip' }],
      statement: 'yes',
    })
    expect(await silent.json()).toMatchObject({
      fields: { statement: expect.stringContaining('how they agreed') as string },
    })
  })
})

const file = [
  'email,first name,country,phone,binding,tags',
  'New@Postbox.test,Nia,ie,+353 1 234 5678,Coptic,"Fair 2026, Buyer"',
  'known@postbox.test,Kit,,,,',
  'same@postbox.test,,,,,',
  'gone@postbox.test,Gil,,,,',
  'left@postbox.test,Lou,,,,',
  'with space@postbox.test,Spa,,,,',
  'Ada@bücher.test,Ada,,,,',
  'twenty@postbox.test,First,,,,',
  'twenty@postbox.test,Last,,,,',
  'bad-phone@postbox.test,Bo,,12,,',
  'bad-choice@postbox.test,Bea,,,Kettle,',
  ',Nobody,,,,',
].join('\n')

async function settle(): Promise<void> {
  await q().rows(
    `insert into contact (address, address_key, first_name, country, marketing_state, created_at, updated_at) values
       ('known@postbox.test', 'known@postbox.test', '', 'FR', 'subscribed', now(), now()),
       ('same@postbox.test', 'same@postbox.test', 'Sam', null, 'subscribed', now(), now()),
       ('left@postbox.test', 'left@postbox.test', 'Lou', null, 'unsubscribed', now(), now())`,
  )
  await postForm(install.url, { address: 'gone@postbox.test' })
  const gone = await person('gone@postbox.test')
  await mara.post(`/people/${gone?.id}/erase`)
}

describe('an import', () => {
  beforeEach(settle)

  it('says what it would do before anything is written', async () => {
    const before = await snapshot(install)
    const { view } = await tryOut(mara, file)
    expect(view.counts).toMatchObject({
      lines: 12,
      invalid: 4,
      repeated: 1,
      suppressed: 1,
      added: 3,
      changed: 1,
      same: 2,
      keptUnsubscribed: 1,
    })
    expect(view.counts?.reasons.map(({ reason }) => reason).join('\n')).toContain(
      '“with space@postbox.test” is not an email address',
    )
    expect(await snapshot(install)).toEqual(before)
  })

  it('puts people on the list with everything that the file says of them', async () => {
    await importAll(mara, file, { tags: ['Spring fair'] })
    const nia = await person('new@postbox.test')
    expect(nia).toMatchObject({
      address: 'New@Postbox.test',
      first_name: 'Nia',
      country: 'IE',
      phone: '+35312345678',
      marketing_state: 'subscribed',
    })
    expect(Object.values(nia?.fields as Record<string, unknown>)).toEqual(['coptic'])
    const tags = await q().rows<{ name: string }>(
      'select name from contact_tag join tag on tag.id = tag_id where contact_id = $1 order by 1',
      [nia?.id],
    )
    expect(tags.map(({ name }) => name)).toEqual(['Buyer', 'Fair 2026', 'Spring fair'])
    const [consent] = await q().rows('select wording, source from consent where contact_id = $1', [nia?.id])
    expect(consent).toEqual({ wording: 'Signed the list at the spring fair', source: 'import of people.csv' })
    // The last of the same address wins.
    expect(await person('twenty@postbox.test')).toMatchObject({ first_name: 'Last' })
    // RFC 3492 (Punycode): bücher is xn--bcher-kva.
    expect(await person('ada@xn--bcher-kva.test')).toMatchObject({ address: 'Ada@bücher.test' })
    // Who was erased does not come back; who unsubscribed stays unsubscribed.
    expect(await person('gone@postbox.test')).toBeUndefined()
    expect(await person('left@postbox.test')).toMatchObject({ marketing_state: 'unsubscribed' })
  })

  it.each([
    ['update', { first_name: 'Kit', country: 'FR' }, 'Sammy'],
    ['fillBlanks', { first_name: 'Kit', country: 'FR' }, 'Sam'],
    ['skip', { first_name: '', country: 'FR' }, 'Sam'],
  ] as const)('treats known people as chosen: %s', async (existing, known, same) => {
    await importAll(mara, 'email,first name\nknown@postbox.test,Kit\nsame@postbox.test,Sammy\n', { existing })
    expect(await person('known@postbox.test')).toMatchObject(known)
    expect(await person('same@postbox.test')).toMatchObject({ first_name: same })
  })

  it('gives back the lines that could not be used, with the reason, as a file', async () => {
    const { id } = await importAll(mara, file)
    const text = await (await mara.download(`/imports/${id}/errors.csv`)).text()
    const lines = text.trim().split('\r\n')
    expect(lines).toHaveLength(5)
    expect(lines[0]).toBe('Line,What is wrong,email,first name,country,phone,binding,tags')
    expect(lines.find((line) => line.includes('bad-choice'))).toMatch(
      /^12,Binding: “Kettle” is not one of Coptic,/,
    )
  })

  it('is taken back whole, but for who has done something since and what was changed by hand', async () => {
    const before = await snapshot(install)
    const { id } = await importAll(mara, file, { tags: ['Spring fair'] })
    const undone = await made<{ work: number }>(mara.post(`/imports/${id}/undo`))
    const ended = await workEnded(mara, undone.work)
    expect(ended.said).toBe('3 removed, 1 restored.')
    expect(await snapshot(install)).toEqual(before)

    const again = await importAll(mara, file)
    await postForm(install.url, { address: 'new@postbox.test', firstName: 'Nia' })
    await q().rows(`update contact set first_name = 'Christopher' where address_key = 'known@postbox.test'`)
    const second = await workEnded(
      mara,
      (await made<{ work: number }>(mara.post(`/imports/${again.id}/undo`))).work,
    )
    expect(second.said).toContain('1 kept, because they have been active or have been emailed since')
    expect(await person('new@postbox.test')).toBeDefined()
    expect(await person('known@postbox.test')).toMatchObject({ first_name: 'Christopher' })
  })

  it('starts follow-ups by its tags only when that is wished', async () => {
    await q().rows(
      `update followup set program = jsonb_set(program, '{startsWhen}', '[{"kind": "tagAdded", "tag": ${install.ids.tag}}]')`,
    )
    const lines = 'email\nstarts@postbox.test\n'
    await importAll(mara, lines, { tags: ['Template pack'] })
    await importAll(mara, 'email\nsecond@postbox.test\n', { tags: ['Template pack'], startFollowups: true })
    await expect
      .poll(() =>
        q().row(
          `select 1 from enrolment join contact on contact.id = contact_id where address_key = 'second@postbox.test'`,
        ),
      )
      .toBeTruthy()
    expect(
      await q().row(
        `select 1 from enrolment join contact on contact.id = contact_id where address_key = 'starts@postbox.test'`,
      ),
    ).toBeUndefined()
  })
})

describe('an import that does not come to its end', () => {
  it('leaves nothing half done when it is cancelled, and can be begun again', async () => {
    const { id } = await tryOut(mara, many(3000))
    const before = await snapshot(install)
    // The request to stop is there before the work begins: it is heard at the first step.
    await worker.stop()
    const { work } = await made<{ work: number }>(mara.post(`/imports/${id}/run`))
    await mara.post(`/work/${work}/cancel`)
    worker = await install.startWorker()
    const ended = await workEnded(mara, work)
    expect(ended).toMatchObject({ state: 'cancelled', said: 'Cancelled. Nothing was changed.' })
    expect(await snapshot(install)).toEqual(before)
    expect((await mara.get<ImportView>(`/imports/${id}`)).state).toBe('checked')

    const second = await made<{ work: number }>(mara.post(`/imports/${id}/run`))
    expect((await workEnded(mara, second.work, 30_000)).said).toBe('3000 added, 0 updated.')
  })

  it('begins anew after a restart in the middle, and says so', async () => {
    const { id } = await tryOut(mara, many(10))
    // The books as a killed worker leaves them: running, with nothing committed.
    const work = await q().inTransaction(async (tx) => {
      const begun = await startWork(tx, 'import', 'Import people.csv', { import: id }, new Date())
      await tx.rows(`update long_work set state = 'running' where id = $1`, [begun])
      return begun
    })
    const ended = await workEnded(mara, work, 30_000)
    expect(ended.state).toBe('done')
    expect(ended.said).toMatch(/^It was restarted after an interruption\. 10 added/)
  })
})
