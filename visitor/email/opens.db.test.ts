import { describe, expect, it } from 'vitest'
import type { PersonView } from '../../contract/audience/people.ts'
import { lookAt } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { buttonOf, mailFor, postForm } from '../../testing/visitor.ts'

const used = useInstall()

const pictureOf = (html: string): string => {
  const link = /<img[^>]+src="([^"]+\/seen\/[^"]+)"/.exec(html)?.[1]
  if (!link) throw new Error('the email has no picture')
  return link
}

async function signUp(address: string) {
  await postForm(used.install.url, { address })
  const [mail] = await mailFor(used.install, address)
  const { rows } = await used.find({ search: address })
  const opens = async (): Promise<PersonView['journal']> =>
    (await used.view(rows[0]!.id)).journal.filter(({ title }) => title.startsWith('opened'))
  return { mail: mail!, opens }
}

describe('an email that is opened', () => {
  it('is written down once, however often its picture is asked for', async () => {
    const { mail, opens } = await signUp('opener@postbox.test')
    expect(await opens()).toEqual([])
    for (let i = 0; i < 3; i += 1) {
      const picture = await lookAt(pictureOf(mail.html))
      expect(picture.headers.get('content-type')).toBe('image/gif')
      expect(picture.headers.get('cache-control')).toBe('no-store')
      expect(picture.headers.get('set-cookie')).toBeNull()
    }
    expect(await opens()).toMatchObject([{ title: 'opened “Your template pack”' }])
  })

  it('is so too when a link in it is clicked and pictures are not shown', async () => {
    const { mail, opens } = await signUp('no-pictures@postbox.test')
    await lookAt(buttonOf(mail))
    await lookAt(buttonOf(mail))
    expect(await opens()).toHaveLength(1)
  })

  it('is told apart when a machine asks for its picture; a mailbox that fetches it for its reader is no machine', async () => {
    const { mail, opens } = await signUp('scanned@postbox.test')
    await lookAt(pictureOf(mail.html), { 'user-agent': 'Mozilla/5.0 (compatible; scannerbot/1.0)' })
    expect(await opens()).toEqual([])
    const [row] = await used.q.rows<{ machine: Date | null }>(
      `select machine_opened_at machine from message join contact on contact.id = contact_id
       where address_key = 'scanned@postbox.test'`,
    )
    expect(row?.machine).toBeInstanceOf(Date)
    // What such a server says of itself: common practice, from memory.
    await lookAt(pictureOf(mail.html), { 'user-agent': 'Mozilla/5.0 (via ggpht.com GoogleImageProxy)' })
    expect(await opens()).toHaveLength(1)
  })

  it('is not when somebody makes up an address: the same picture comes, and nothing is written', async () => {
    const { mail, opens } = await signUp('quiet@postbox.test')
    const real = pictureOf(mail.html)
    const known = Buffer.from(
      await (await fetch(pictureOf((await signUp('other@postbox.test')).mail.html))).arrayBuffer(),
    )
    for (const made of [
      `${real}x`,
      real.replace(/seen\/[^.]+/, `seen/${Buffer.from('1').toString('base64url')}`),
    ]) {
      const picture = await fetch(made)
      expect(picture.status).toBe(200)
      expect(Buffer.from(await picture.arrayBuffer())).toEqual(known)
    }
    expect(await opens()).toEqual([])
  })

  it('stands at the time of the person’s own clock in rehearsal', async () => {
    const { mail, opens } = await signUp('ahead@postbox.test')
    const ahead = 3 * 86_400_000
    await used.q.rows(
      `update contact set rehearsal = true, clock_ahead = $1 where address_key = 'ahead@postbox.test'`,
      [ahead],
    )
    await lookAt(pictureOf(mail.html))
    const lines = await opens()
    expect(lines.map(({ at }) => Date.parse(at))).toEqual([used.install.clock.now() + ahead])
  })
})
