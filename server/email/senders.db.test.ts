import { describe, expect, it } from 'vitest'
import type { SenderView } from '../../contract/sending.ts'
import { useEmails } from '../../testing/emails.ts'
import { made } from '../../testing/people.ts'
import { lookAt } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { mailFor } from '../../testing/visitor.ts'

const on = useInstall()
const { who, write, live, send, create, view, publish } = useEmails(on)

const senders = () => on.mara.get<SenderView[]>('/senders')
const add = async (address: string, name = 'Ilse Varga'): Promise<number> =>
  (await made<{ id: number }>(on.mara.post('/senders', { name, address }))).id
const linkIn = (text: string): string => /http\S+\/confirm-sender\/\S+/.exec(text)![0]
const confirm = async (address: string, count = 1): Promise<Response> => {
  const mails = await mailFor(on.install, address, count)
  return fetch(linkIn(mails.at(-1)!.text), { method: 'POST' })
}
const refusalOf = async (answer: Response): Promise<[number, string]> => [answer.status, await answer.text()]

describe('a sender', () => {
  it('is asked by email, and writes once the address has said yes', async () => {
    const address = 'ilse@bench.test'
    const id = await add(address)
    const email = await create(write({ sender: id }))
    expect(await refusalOf(await publish(email))).toEqual([
      422,
      expect.stringContaining('has not confirmed the address yet'),
    ])
    // Who only looks, as a scanner of mail does, confirms nothing.
    const [asked] = await mailFor(on.install, address)
    expect(await (await lookAt(linkIn(asked!.text))).text()).toContain('May emails come from')
    expect((await senders()).find((each) => each.id === id)).toMatchObject({ confirmed: false })

    expect((await confirm(address)).status).toBe(200)
    expect((await view(email)).findings.filter(({ level }) => level === 'error')).toEqual([])
    const sent = await live(write({ sender: id }))
    await send(sent)
    const [mail] = await mailFor(on.install, who.address)
    expect(mail!.from).toContain(address)
    expect((await senders()).find((each) => each.id === id)!.usedIn).toContain(`email Letter ${who.n}`)
  })

  it('is confirmed by its last link, for three days', async () => {
    const address = 'later@bench.test'
    const id = await add(address)
    const [first] = await mailFor(on.install, address)
    expect(await refusalOf(await on.mara.post(`/senders/${id}/ask`))).toEqual([
      429,
      expect.stringContaining('Wait a minute'),
    ])
    on.install.clock.move(120_000)
    expect((await on.mara.post(`/senders/${id}/ask`)).status).toBe(204)
    await mailFor(on.install, address, 2)
    expect((await fetch(linkIn(first!.text), { method: 'POST' })).status).toBe(404)
    expect((await fetch(`${on.install.url}/confirm-sender/forged.token`, { method: 'POST' })).status).toBe(
      404,
    )
    on.install.clock.move(3 * 86_400_000)
    expect((await confirm(address, 2)).status).toBe(404)
  })

  it('becomes the usual one once it is confirmed, and is not deleted while emails come from it', async () => {
    const address = 'shop@bench.test'
    const id = await add(address, 'The shop')
    expect((await on.mara.post(`/senders/${id}/usual`)).status).toBe(409)
    await confirm(address)
    const before = (await senders()).find(({ usual }) => usual)!
    expect((await on.mara.post(`/senders/${id}/usual`)).status).toBe(204)
    expect(await refusalOf(await on.mara.post(`/senders/${id}/delete`))).toEqual([
      409,
      expect.stringContaining('Make another one the usual sender first'),
    ])
    await send(await live())
    const [mail] = await mailFor(on.install, who.address)
    expect(mail!.from).toContain('The shop')
    expect((await on.mara.post(`/senders/${before.id}/usual`)).status).toBe(204)
    expect((await on.mara.post(`/senders/${id}/rename`, { name: 'Shop' })).status).toBe(204)
    expect((await on.mara.post(`/senders/${id}/delete`)).status).toBe(204)
    expect((await on.mara.post(`/senders/${id}/delete`)).status).toBe(404)
  })

  it.each([
    [{ name: 'X', address: 'nobody' }, 422],
    [{ name: 'X\r\nBcc: all@x.test', address: 'a@bench.test' }, 422],
    [{ name: '', address: 'a@bench.test' }, 422],
    [{ name: 'Again', address: 'MARA@quillfeather.example' }, 409],
  ])('that is %j is refused', async (body, status) => {
    expect((await on.mara.post('/senders', body)).status).toBe(status)
  })
})
