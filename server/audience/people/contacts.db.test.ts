import { describe, expect, it } from 'vitest'
import { importAll, made } from '../../../testing/people.ts'
import { useInstall } from '../../../testing/useInstall.ts'
import { mailFor, postForm } from '../../../testing/visitor.ts'

const on = useInstall()
const titles = async (id: number) => (await on.view(id)).journal.map(({ title }) => title)

describe('a person', () => {
  it('is added with everything, read as people write it', async () => {
    const own = await made<{ id: number }>(on.mara.post('/fields', { name: 'First book', kind: 'date' }))
    const id = await on.add('Orla@Postbox.test', {
      firstName: 'Orla',
      phone: '01 234 5678',
      country: 'ie',
      zone: 'Europe/Dublin',
      fields: { [own.id]: '24.11.2026' },
      consent: 'Said so at the spring fair',
      tags: ['Fair', 'fair', 'Buyer'],
    })
    const orla = await on.view(id)
    // ITU-T E.164: + and country, no signs.
    expect(orla).toMatchObject({ phone: '+35312345678', country: 'IE', marketingState: 'subscribed' })
    expect(orla.fields).toEqual({ [own.id]: '2026-11-24' })
    expect(orla.tags.map(({ name }) => name)).toEqual(['Fair', 'Buyer'])
    expect(orla.consents[0]).toMatchObject({
      wording: 'Said so at the spring fair',
      source: 'added by Mara Ellery',
    })
  })

  it('whom nobody asked is on the list, and gets no marketing', async () => {
    expect((await on.view(await on.add('unasked@postbox.test'))).marketingState).toBe('neverAsked')
  })

  it.each([
    [{ address: 'none' }, 'address'],
    [{ country: 'XX' }, 'country'],
    [{ phone: '12' }, 'phone'],
    [{ zone: 'Mars/Olympus' }, 'zone'],
    [{ firstName: 'x'.repeat(81) }, 'firstName'],
    [{ address: 'ORLA@postbox.test' }, 'address'],
  ])('with %j is refused at that place', async (wrong, place) => {
    const answer = await on.mara.post('/people', { address: 'fine@postbox.test', ...wrong })
    expect([409, 422]).toContain(answer.status)
    expect(Object.keys(((await answer.json()) as { fields: object }).fields)).toEqual([place])
  })

  it('is changed, and the journal names what and who', async () => {
    const id = await on.add('tom@postbox.test', { firstName: 'Tom' })
    await on.mara.post(`/people/${id}`, { address: 'tom@postbox.test', firstName: 'Thomas', country: 'IE' })
    const line = (await on.view(id)).journal.find(({ title }) => title === 'was edited')
    expect(line?.reason).toContain('first name, country, by Mara Ellery')
  })
})

describe('somebody who is added twice at the same moment', () => {
  it('is on the list once, and who was slower is told so', async () => {
    const answers = await Promise.all(
      Array.from({ length: 6 }, () => on.mara.post('/people', { address: 'twice@postbox.test' })),
    )
    const states = answers.map(({ status }) => status).sort()
    expect(states).toEqual([201, 409, 409, 409, 409, 409])
    const refused = answers.find(({ status }) => status === 409)!
    expect((await refused.json()) as unknown).toMatchObject({ title: expect.any(String) as string })
    expect(await on.q.rows(`select 1 from contact where address_key = 'twice@postbox.test'`)).toHaveLength(1)
  })
})

describe('two people who are one', () => {
  it('become one with both histories, and both addresses lead to them', async () => {
    await postForm(on.install.url, { address: 'old@postbox.test', firstName: 'Nia' })
    await mailFor(on.install, 'old@postbox.test')
    const old = (await on.q.row<{ id: number }>(
      `select id from contact where address_key = 'old@postbox.test'`,
    ))!.id
    const id = await on.add('new@postbox.test', { lastName: 'Fairburn', tags: ['Template pack', 'Buyer'] })
    expect((await on.mara.post(`/people/${id}/merge`, { other: old })).status).toBe(204)

    const one = await on.view(id)
    expect(one).toMatchObject({
      name: 'Nia Fairburn',
      marketingState: 'subscribed',
      otherAddresses: ['old@postbox.test'],
    })
    expect(one.tags.map(({ name }) => name).sort()).toEqual(['Buyer', 'Template pack'])
    expect(await titles(id)).toEqual(
      expect.arrayContaining([
        'submitted the form “Template pack” on “Template pack”',
        'was sent “Your template pack”',
        'was merged with “old@postbox.test”',
      ]),
    )
    expect((await on.mara.get<unknown[]>(`/people/${id}/enrolments`)).length).toBe(1)
    // Who signs up with the old address, or is imported under it, is still this person.
    await postForm(on.install.url, { address: 'OLD@postbox.test', firstName: 'Niamh' })
    await importAll(on.mara, 'email,last name\nold@postbox.test,Bracken\n')
    expect(await on.view(id)).toMatchObject({ name: 'Nia Bracken' })
    expect((await on.find({ search: 'old@postbox.test' })).rows).toEqual([])
  })

  it('stay unsubscribed if either was', async () => {
    const [keep, other] = [
      await on.add('yes@postbox.test', { consent: 'At the fair' }),
      await on.add('no@postbox.test'),
    ]
    await on.q.rows(`update contact set marketing_state = 'unsubscribed' where id = $1`, [other])
    await on.mara.post(`/people/${keep}/merge`, { other })
    expect((await on.view(keep)).marketingState).toBe('unsubscribed')
  })

  it('are not one person twice', async () => {
    const id = await on.add('self@postbox.test')
    expect((await on.mara.post(`/people/${id}/merge`, { other: id })).status).toBe(409)
  })
})

describe('erasing', () => {
  it('leaves no trace but a hash, which keeps an import from bringing the person back', async () => {
    await postForm(on.install.url, { address: 'gone@postbox.test', firstName: 'Gwendolyn' })
    await mailFor(on.install, 'gone@postbox.test')
    const { id } = (await on.q.row<{ id: number }>(
      `select id from contact where address_key = 'gone@postbox.test'`,
    ))!
    expect((await on.mara.post(`/people/${id}/erase`)).status).toBe(204)

    const tables = await on.q.rows<{ name: string }>(
      `select c.relname name from pg_class c join pg_namespace n on n.oid = relnamespace
       where relkind = 'r' and nspname = 'public' and relname not like 'import_stage%'`,
    )
    for (const { name } of tables) {
      const found = await on.q.rows(
        `select 1 from ${name} t where t::text ilike '%gone@postbox%' or t::text ilike '%gwendolyn%'`,
      )
      expect(found, name).toEqual([])
    }
    const { view: seen } = await importAll(on.mara, 'email\ngone@postbox.test\n')
    expect(seen.counts).toMatchObject({ added: 0, suppressed: 1 })
    // Signing up again is their own wish.
    await postForm(on.install.url, { address: 'gone@postbox.test' })
    expect((await on.find({ search: 'gone@postbox.test' })).rows).toHaveLength(1)
  })
})
