import { expect, beforeEach } from 'vitest'
import type { EmailRow, EmailView } from '../contract/emails.ts'
import type { Block } from '../core/blocks/block.ts'
import { composer, type Composer } from '../core/blocks/compose.ts'
import type { Target } from '../core/blocks/target.ts'
import { emptyEmail, type EmailContent } from '../core/email/email.ts'
import { callBackFor } from '../server/email/broadcasts/moments.ts'
import { numberedIds } from './documents.ts'
import { made } from './people.ts'
import type { Used } from './useInstall.ts'

/** Writes, publishes and sends emails of the Library as the application does. */
export interface Emails extends Composer {
  /** Who gets them: somebody else in each test, with its number. */
  who: { n: number; address: string }
  button: (to: Target) => Block
  /** An email with a greeting and a button, and what is given besides. */
  write: (given?: Partial<EmailContent>, ...blocks: Block[]) => EmailContent
  create: (content?: EmailContent, name?: string) => Promise<number>
  view: (id: number) => Promise<EmailView>
  save: (id: number, content: EmailContent) => Promise<void>
  publish: (id: number) => Promise<Response>
  /** Creates and publishes. */
  live: (content?: EmailContent) => Promise<number>
  rowOf: (id: number) => Promise<EmailRow>
  /** Sends an email to one person, as a broadcast to those of their address. */
  send: (id: number) => Promise<void>
}

export function useEmails(on: Used): Emails {
  const blocks = composer(numberedIds('mail'))
  const { block, text, section, document } = blocks
  const who = { n: 0, address: '' }
  beforeEach(() => {
    who.n += 1
    who.address = `reader${who.n}@postbox.test`
  })
  const button: Emails['button'] = (to) => block('button', { label: 'See the bench', target: to })
  const write: Emails['write'] = (given = {}, ...more) =>
    emptyEmail({
      subject: "For {first name or 'you'}",
      preheader: 'A look at the bench.',
      document: document(
        section([
          {
            blocks: [
              text("Hello {first name or 'there'},"),
              ...more,
              button({ to: 'web', url: 'https://bench.test/first' }),
            ],
          },
        ]),
      ),
      ...given,
    })
  const create: Emails['create'] = async (content = write(), name = `Letter ${who.n}`) =>
    (await made<{ id: number }>(on.mara.post('/emails', { name, content }))).id
  const view: Emails['view'] = (id) => on.mara.get(`/emails/${id}`)
  const publish: Emails['publish'] = async (id) => {
    const { version, revision } = await view(id)
    return on.mara.post(`/emails/${id}/publish`, { version, revision })
  }
  return {
    ...blocks,
    who,
    button,
    write,
    create,
    view,
    save: async (id, content) => {
      const { version, revision } = await view(id)
      const answer = await on.mara.post(`/emails/${id}/save`, { version, revision, content })
      expect(answer.status, await answer.clone().text()).toBe(200)
    },
    publish,
    live: async (content = write()) => {
      const id = await create(content)
      expect((await publish(id)).status).toBe(204)
      return id
    },
    rowOf: async (id) => (await on.mara.get<EmailRow[]>('/emails')).find((each) => each.id === id)!,
    send: async (id) => {
      const known = await on.q.row<{ id: number }>('select id from contact where address_key = $1', [
        who.address,
      ])
      const person = known?.id ?? (await on.add(who.address, { firstName: 'Orla' }))
      await on.q.rows(`update contact set marketing_state = 'subscribed' where id = $1`, [person])
      await made(
        on.mara.post('/broadcasts', { who: { search: who.address, tree: null }, email: id, topic: null }),
      )
      on.install.clock.move(callBackFor)
    },
  }
}
