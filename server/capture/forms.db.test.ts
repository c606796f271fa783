import { describe, expect, it } from 'vitest'
import type { FormRow, FormView } from '../../contract/forms.ts'
import { simpleForm, type FormContent } from '../../core/capture/form.ts'
import { made } from '../../testing/people.ts'
import { formPage } from '../../testing/formPage.ts'
import { eventually } from '../../testing/waiting.ts'
import { useInstall } from '../../testing/useInstall.ts'

const on = useInstall()
const create = async (content: FormContent = simpleForm(), publish = false): Promise<number> =>
  (await made<{ id: number }>(on.mara.post('/forms', { name: 'Newsletter', content, publish }))).id
const view = (id: number) => on.mara.get<FormView>(`/forms/${id}`)
const save = (from: FormView, content: FormContent, more: object = {}) =>
  on.mara.post(`/forms/${from.id}/save`, {
    version: from.version,
    revision: from.revision,
    content,
    ...more,
  })
const publish = ({ id, version, revision }: Pick<FormView, 'id' | 'version' | 'revision'>) =>
  on.mara.post(`/forms/${id}/publish`, { version, revision })

describe('a form', () => {
  it('is drafted, published, gone back to, copied and archived', async () => {
    const id = await create()
    const first = await view(id)
    expect(first).toMatchObject({ state: 'draft', publishedVersion: null, usedIn: [] })
    expect((await publish(first)).status).toBe(204)
    expect((await save(first, simpleForm({ button: 'Go' }))).status).toBe(200)
    const second = await view(id)
    expect(second).toMatchObject({ state: 'live', version: 2, changes: ['Changed button'] })
    expect(second.content.button).toBe('Go')
    await on.mara.post(`/forms/${id}/go-back`, { version: 1 })
    expect((await view(id)).content.button).toBe('Send it to me')
    const { id: copy } = await made<{ id: number }>(on.mara.post(`/forms/${id}/copy`))
    expect(await view(copy)).toMatchObject({ name: 'Newsletter (copy)', state: 'draft' })
    await on.mara.post(`/forms/${id}/archive`, { archived: true })
    const rows = await on.mara.get<FormRow[]>('/forms')
    expect(rows.find((row) => row.id === id)?.state).toBe('archived')
  })

  it('that somebody else has saved meanwhile is not saved over unless it is meant', async () => {
    const from = await view(await create())
    expect((await save(from, simpleForm({ button: 'Mine' }))).status).toBe(200)
    const stale = await save(from, simpleForm({ button: 'Theirs' }))
    expect(stale.status).toBe(409)
    expect(((await stale.json()) as { title: string }).title).toContain('has changed this form meanwhile')
    expect((await save(from, simpleForm({ button: 'Theirs' }), { over: true })).status).toBe(200)
  })

  it('with faults is kept, and not published', async () => {
    const id = await create(simpleForm({ button: '' }))
    const draft = await view(id)
    expect(draft.findings.map(({ words }) => words)).toContain('Write what the button says')
    const answer = await publish(draft)
    expect([answer.status, await answer.text()]).toEqual([
      422,
      expect.stringContaining('Write what the button says'),
    ])
  })

  it('says after each save what it does, with what scorecards give for it', async () => {
    const id = await create()
    const card = {
      behaviours: [{ id: 'sent', activity: 'formSent', details: { form: id }, points: 8, halfLife: null }],
      profile: [],
      bands: [{ id: 'all', name: 'All', from: null }],
    }
    await made(on.mara.post('/scorecards', { name: 'Interest', card }))
    const points = 'gives 8 points on the scorecard “Interest”'
    await eventually(async () => (await view(id)).sends.includes(points))
    const { tag } = on.install.ids
    const saved = await made<{ sends: string[] }>(
      save(await view(id), simpleForm({ actions: [{ does: 'addTag', tag }] })),
    )
    expect(saved.sends).toEqual(['puts on the tag “Template pack”', points, 'says “Thank you”'])
  })

  it('in use is not deleted; one that is goes, and what people agreed to by it stays', async () => {
    const page = await formPage(on)
    await page.send({ address: 'keeps@postbox.test', consent: 'yes' })
    const refused = await on.mara.post(`/forms/${page.form}/delete`)
    expect([refused.status, await refused.text()]).toEqual([409, expect.stringContaining('page form-page')])
    await on.mara.post(`/pages/${page.page}/delete`)
    expect((await on.mara.post(`/forms/${page.form}/delete`)).status).toBe(204)
    const [kept] = await on.q.rows<{ words: string; wording: string }>(
      `select words, wording from consent join consent_wording on consent_wording.id = wording_id
       join contact on contact.id = contact_id where address_key = 'keeps@postbox.test'`,
    )
    expect(kept?.words).toBe(kept?.wording)
  })

  it('counts where it is seen and sent', async () => {
    const page = await formPage(on)
    await page.send({ address: 'counted@postbox.test', consent: 'yes' })
    const rows = await on.mara.get<FormRow[]>('/forms')
    expect(rows.find(({ id }) => id === page.form)).toMatchObject({
      sent: 1,
      usedIn: [expect.stringMatching(/^page/)],
    })
  })

  it('follows a tag that is merged into another', async () => {
    const tag = async (name: string): Promise<number> =>
      (await made<{ id: number }>(on.mara.post('/tags', { name, description: '' }))).id
    const [gone, kept] = [await tag('Gone'), await tag('Kept')]
    const id = await create(
      simpleForm({ actions: [{ does: 'addTag', tag: gone }], confirm: { when: 'always', waitingTag: gone } }),
    )
    await on.mara.post(`/tags/${gone}/merge`, { into: kept })
    const { content } = await view(id)
    expect([content.actions, content.confirm.waitingTag]).toEqual([[{ does: 'addTag', tag: kept }], kept])
  })
})

describe('many forms at once', () => {
  it('are each taken in once, in transactions of many, and one that fails holds up no other', async () => {
    const page = await formPage(on)
    const markup = await page.open()
    const hidden = Object.fromEntries(
      [...markup.matchAll(/name="(form|version)" value="([^"]+)"/g)].map(([, a, b]) => [a!, b!]),
    )
    const tokens = await Promise.all(
      Array.from({ length: 60 }, async () => /name="token" value="([^"]+)"/.exec(await page.open())![1]!),
    )
    const answers = await Promise.all(
      tokens.map((token, i) =>
        fetch(page.url, {
          method: 'POST',
          // Twenty people, three times each.
          body: new URLSearchParams({
            ...hidden,
            token,
            address: `many${i % 20}@postbox.test`,
            consent: 'yes',
          }),
        }),
      ),
    )
    expect(answers.map(({ status }) => status)).toEqual(tokens.map(() => 200))
    const [counted] = await on.q.rows<{ people: number; sent: number; transactions: number }>(
      `select count(distinct contact.id)::int people, count(distinct activity.id)::int sent,
         count(distinct activity.xmin::text)::int transactions
       from contact join activity on contact_id = contact.id and kind = 'formSent' where address like 'many%'`,
    )
    // Twice within an hour is once.
    expect(counted).toMatchObject({ people: 20, sent: 20 })
    expect(counted!.transactions).toBeLessThan(20)
  })
})
