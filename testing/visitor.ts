import type { InboxMessage } from '../contract/email.ts'
import type { TestInstall } from './install.ts'
import { eventually } from './waiting.ts'

/** The token of a fresh view of the page. */
export async function tokenOf(url: string, slug = 'template-pack'): Promise<string> {
  const page = await (await fetch(`${url}/p/${slug}`)).text()
  const token = /name="token" value="([^"]+)"/.exec(page)?.[1]
  if (!token) throw new Error('the page has no token')
  return token
}

/** Posts the form as a browser would; a field that is undefined is left out. */
export async function postForm(
  url: string,
  fields: Record<string, string | undefined>,
  slug = 'template-pack',
): Promise<Response> {
  const given: Record<string, string | undefined> = {
    firstName: 'Orla',
    address: 'orla@postbox.test',
    consent: 'yes',
    website: '',
    ...fields,
  }
  if (!('token' in fields)) given.token = await tokenOf(url, slug)
  const body = new URLSearchParams()
  // The fields of the story's forms are called as what they ask for.
  for (const [name, value] of Object.entries(given))
    if (value !== undefined) body.set(name === 'firstName' ? 'firstname' : name, value)
  return fetch(`${url}/p/${slug}`, { method: 'POST', body, redirect: 'manual' })
}

/** The emails that somebody has got, once there are so many. */
export function mailFor(install: TestInstall, to: string, count = 1): Promise<InboxMessage[]> {
  return eventually(() => {
    const found = install.mail.standins?.mailbox.list({ to }) ?? []
    return found.length >= count && found
  })
}

/** The address behind the button of an email. */
export function buttonOf(message: InboxMessage): string {
  const link = /https?:\/\/\S+\/go\/\S+/.exec(message.text)?.[0]
  if (!link) throw new Error('the email has no link')
  return link
}
