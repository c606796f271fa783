import { randomUUID } from 'node:crypto'
import type { Posting } from '../visitor/load.ts'

let made = 0
/** A form that nobody has sent before, by somebody whom nobody knows. */
export const posting =
  (signed: string, hidden: Record<string, string>): Posting =>
  () =>
    new URLSearchParams({
      ...hidden,
      firstname: 'Orla',
      address: `bench${(made += 1)}.${process.pid}@postbox.test`,
      consent: 'yes',
      // The name of a token is not signed: each view of the page makes one of its own.
      token: `${signed}.${randomUUID()}`,
    }).toString()

/** What the form of a page carries hidden, and the signed part of its tokens. */
export async function formOn(page: string): Promise<Posting> {
  const markup = await (await fetch(page)).text()
  const valueOf = (name: string): string =>
    new RegExp(`name="${name}" value="([^"]*)"`).exec(markup)?.[1] ?? ''
  const token = valueOf('token')
  return posting(token.slice(0, token.lastIndexOf('.')), {
    form: valueOf('form'),
    version: valueOf('version'),
    step: '0',
  })
}
