import { disposableEmailBlocklist } from 'disposable-email-domains-js'
import { beforeEach, describe, expect, it } from 'vitest'
import { simpleForm } from '../../core/capture/form.ts'
import { freshField } from '../../core/capture/formEdits.ts'
import { readerMark } from '../../server/pages/readers.ts'
import { formPage, type FormPage } from '../../testing/formPage.ts'
import { made } from '../../testing/people.ts'
import { lookAt } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { mailFor } from '../../testing/visitor.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
let number = 0
let address = ''
beforeEach(() => {
  address = `step${(number += 1)}@postbox.test`
})
const typed = (more: Record<string, string> = {}) => ({ address, consent: 'yes', ...more })

async function person(of = address) {
  const found = await on.q.row<{ id: number }>('select id from contact where address_key = $1', [of])
  return found ? on.view(found.id) : null
}
const field = async (name: string, kind: string, options: string[] = []): Promise<number> =>
  (
    await made<{ id: number }>(
      on.mara.post('/fields', {
        name,
        kind,
        options: options.map((label) => ({ id: label.toLowerCase(), label })),
      }),
    )
  ).id

describe('a form of three steps', () => {
  let page: FormPage | undefined
  let bench = 0
  const opened = (): FormPage => page!
  const steps = () => [
    ...simpleForm().steps,
    {
      id: 'secondstep',
      title: 'Your bench',
      fields: [{ ...freshField('own', 'benchfield'), label: 'Press', field: bench, required: true }],
    },
    { id: 'thirdstep', fields: [freshField('message', 'question')] },
  ]
  beforeEach(async () => {
    bench ||= await field('Press', 'oneOf', ['Wooden', 'Iron'])
    page ??= await formPage(on, { steps: steps(), actions: [{ does: 'notifyTeam' }] })
    await page.open()
  })

  it('goes from one to the next, carries on what was answered, and is one sending', async () => {
    const second = await opened().send(typed({ firstname: 'Orla' }))
    expect(second.status).toBe(200)
    expect(second.markup).toContain('Step 2 of 3')
    expect(second.markup).toContain('Your bench')
    expect(await person()).toBeNull()
    const third = await opened().send({ benchfield: 'iron' })
    expect(third.markup).toContain('Step 3 of 3')
    const done = await opened().send({ question: 'Which glue?' })
    expect(done.markup).toContain('Look into your mailbox')
    const orla = (await person())!
    expect(orla).toMatchObject({
      firstName: 'Orla',
      fields: { [bench]: 'iron' },
      marketingState: 'subscribed',
    })
    expect(orla.journal.map(({ title }) => title)).toContain('wrote “Which glue?”')
    // What was asked lands with the team, and an answer to it with who asked.
    const [notice] = await eventually(() => {
      const found = on.install.mail.standins!.mailbox.list({ to: 'mara@quillfeather.example' })
      return found.length > 0 && found
    })
    expect(notice?.text).toContain('Which glue?')
    expect(notice?.text).toContain('Press: Iron')
  })

  it('says at its step what is wrong, keeps all, and can go back', async () => {
    expect((await opened().send(typed({ address: 'none' }))).markup).toContain(
      'should look like name@example.com',
    )
    await opened().send(typed({ firstname: 'Orla' }))
    const faulty = await opened().send({})
    expect([faulty.status, faulty.markup.includes('Step 2 of 3')]).toEqual([422, true])
    expect(faulty.markup).toContain('Please fill in “Press”')
    const back = await opened().send({ back: 'yes' })
    expect(back.markup).toContain('Step 1 of 3')
    expect(back.markup).toContain('value="Orla"')
  })

  it('whose steps come in the wrong order begins where something is missing', async () => {
    const jumped = await opened().send({ step: '2', question: 'Hello' })
    expect([jumped.status, jumped.markup.includes('Step 1 of 3')]).toEqual([422, true])
    const nonsense = await opened().send(typed({ step: '-7e9', firstname: 'Orla' }))
    expect(nonsense.markup).toContain('Step 2 of 3')
    expect(nonsense.markup).toContain('name="question" value="Hello"')
  })

  it('shows the same step again when its answer is loaded again', async () => {
    const first = await opened().send(typed())
    expect((await opened().send({ step: '0' })).markup.includes('Step 2 of 3')).toBe(
      first.markup.includes('Step 2 of 3'),
    )
  })
})

describe('an address that looks doubtful', () => {
  it('is asked about once, with what was meant; either answer is taken', async () => {
    const page = await formPage(on, { domains: ['postbox.test'] })
    const slip = `slip${number}@postbxo.test`
    const asked = await page.send(typed({ address: slip }))
    expect(asked.markup).toContain(`Did you mean “slip${number}@postbox.test”?`)
    await page.send(typed({ address: slip, meant: `slip${number}@postbox.test` }))
    expect(await person(`slip${number}@postbox.test`)).not.toBeNull()
    const sure = `sure${number}@postbxo.test`
    await page.send(typed({ address: sure }))
    await page.send(typed({ address: sure, sure }))
    expect(await person(sure)).not.toBeNull()
  })

  it('of a mailbox that is thrown away is warned about, refused or taken, as the form says', async () => {
    const [domain] = disposableEmailBlocklist()
    const thrown = `gone${number}@${domain}`
    const warns = await formPage(on)
    expect((await warns.send(typed({ address: thrown }))).markup).toContain('thrown away after use')
    const refuses = await formPage(on, { throwaway: 'refuse' })
    const refused = await refuses.send(typed({ address: thrown, sure: thrown }))
    expect([refused.status, refused.markup.includes('a mailbox that you keep')]).toEqual([422, true])
    expect(await person(thrown)).toBeNull()
    const takes = await formPage(on, { throwaway: 'take' })
    await takes.send(typed({ address: thrown }))
    expect(await person(thrown)).not.toBeNull()
  })
})

describe('who comes by a link of their own mail', () => {
  const known = async (): Promise<{ id: number; mark: string }> => {
    const id = await on.add(address, { firstName: 'Ada', consent: 'at the fair' })
    return { id, mark: readerMark(on.install.platform, id) }
  }

  it('finds their details filled in, and what they change counts', async () => {
    const page = await formPage(on)
    const { id, mark } = await known()
    const markup = await page.open(`?me=${mark}`)
    expect(markup).toContain('value="Ada"')
    expect(markup).toContain(`value="${address}"`)
    const answer = await fetch(`${page.url}?me=${mark}`, {
      method: 'POST',
      body: new URLSearchParams({
        ...Object.fromEntries(
          [...markup.matchAll(/name="(token|form|version)" value="([^"]+)"/g)].map(([, a, b]) => [a!, b!]),
        ),
        ...typed({ firstname: 'Adele' }),
      }),
    })
    expect(answer.status).toBe(200)
    expect((await on.view(id)).firstName).toBe('Adele')
  })

  it('presses the button alone, where the form says so; “not you” shows it empty', async () => {
    const page = await formPage(on, { known: 'skip' })
    const { id, mark } = await known()
    const markup = await page.open(`?me=${mark}`)
    expect(markup).toContain(`For ${address}.`)
    expect(markup).not.toContain('type="email"')
    expect(await page.open('?me=0')).toContain('type="email"')
    await page.open(`?me=${mark}`)
    const hidden = [...markup.matchAll(/<input type="hidden" name="([^"]+)" value="([^"]*)"/g)]
    await fetch(`${page.url}?me=${mark}`, {
      method: 'POST',
      body: new URLSearchParams({
        ...Object.fromEntries(hidden.map(([, name, value]) => [name!, value!])),
        consent: 'yes',
      }),
    })
    expect((await on.view(id)).journal[0]?.title).toMatch(/^submitted the form/)
  })

  it('is no one else by a mark that was made up', async () => {
    const page = await formPage(on)
    expect(await page.open('?me=made.up')).not.toContain('value="Ada"')
  })
})

describe('after sending', () => {
  it('the place of the form turns into an offer that can be declined', async () => {
    const page = await formPage(on, {
      after: {
        then: 'offer',
        title: 'While you wait',
        words: 'The guide costs €7.',
        label: 'Show me',
        target: { to: 'web', url: 'https://shop.quillfeather.example/guide' },
        decline: 'No, thank you',
      },
    })
    const { markup } = await page.send(typed())
    expect(markup).toContain('While you wait')
    expect(markup).toContain('href="https://shop.quillfeather.example/guide"')
    expect(markup).toContain('No, thank you')
    expect(markup).not.toContain('type="email"')
  })

  it('a file is handed out at once, in nobody’s name when the address was known', async () => {
    const { file } = on.install.ids
    const page = await formPage(on, { after: { then: 'go', target: { to: 'file', file } } })
    const download = async (): Promise<void> => {
      const answer = await page.send(typed())
      expect((await lookAt(answer.headers.get('location')!)).headers.get('content-type')).toBe(
        'application/pdf',
      )
    }
    await download()
    expect((await person())!.journal.map(({ title }) => title)).toContain(
      'downloaded “Five-Hole Pamphlet templates.pdf”',
    )
    address = `known-${address}`
    await on.add(address, { consent: 'at the fair' })
    await download()
    expect((await person())!.journal.map(({ title }) => title).join()).not.toContain('downloaded')
  })

  it('a file comes by email, a field is set, a follow-up starts', async () => {
    const size = await field(`Size ${number}`, 'text')
    const { file, followup } = on.install.ids
    const page = await formPage(on, {
      actions: [
        { does: 'sendFile', file },
        { does: 'setField', field: size, value: 'A5' },
        { does: 'startFollowup', followup },
      ],
    })
    await page.send(typed({ firstname: 'Orla' }))
    const mails = await mailFor(on.install, address, 2)
    const mail = mails.find(({ subject }) => subject.startsWith('Here it is'))
    expect(mail?.text).toContain('Hello Orla,')
    const link = /https?:\S+\/files\/\S+/.exec(mail!.text)![0]
    expect((await lookAt(link)).headers.get('content-type')).toBe('application/pdf')
    const after = (await person())!
    expect(after.fields).toEqual({ [size]: 'A5' })
    expect(after.journal.map(({ title }) => title)).toContain('entered the follow-up “Template pack”')
  })
})

describe('another version of a form', () => {
  it('that was published meanwhile changes nothing of what was agreed to in the first', async () => {
    const page = await formPage(on)
    await page.open()
    const view = await on.mara.get<{ version: number; revision: number }>(`/forms/${page.form}`)
    const content = simpleForm({}, 'Other words')
    const saved = await made<{ version: number; revision: number }>(
      on.mara.post(`/forms/${page.form}/save`, { ...view, content }),
    )
    await on.mara.post(`/forms/${page.form}/publish`, { version: saved.version, revision: saved.revision })
    await page.send(typed())
    expect((await person())!.consents.map(({ wording }) => wording)).toEqual([
      'Yes, you may write to me. I can stop it at any time.',
    ])
    await eventually(async () => (await page.open()).includes('Other words'))
    address = `later-${address}`
    await page.send(typed())
    expect((await person())!.consents[0]?.wording).toBe('Other words')
    // Who agreed to which words can be asked.
    const wordings = await on.q.rows<{ id: number; number: number }>(
      'select id, number from consent_wording where form_id = $1 order by number',
      [page.form],
    )
    expect(wordings.map(({ number: n }) => n)).toEqual([1, 2])
    const agreed = await on.find({ tree: { kind: 'agreedTo', wording: wordings[1]!.id } })
    expect(agreed.rows.map((row) => row.address)).toEqual([address])
  })
})
