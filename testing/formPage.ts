import type { simpleForm } from '../core/capture/form.ts'
import { composer } from '../core/blocks/compose.ts'
import { numberedIds } from './documents.ts'
import { computer, lookAt, publish, publishForm } from './publishing.ts'
import type { Used } from './useInstall.ts'

const { block } = composer(numberedIds('formpage'))
let made = 0

/** The values that a form carries hidden. */
export const hiddenValues = (markup: string): Record<string, string> =>
  Object.fromEntries(
    [...markup.matchAll(/<input type="hidden" name="([^"]+)" value="([^"]*)"/g)].map(([, name, value]) => [
      name ?? '',
      (value ?? '').replaceAll('&quot;', '"').replaceAll('&amp;', '&'),
    ]),
  )

/** A page with one form on it, filled in as a browser would: what one answer shows is sent on with the next. */
export interface FormPage {
  form: number
  page: number
  url: string
  /** Opens the page. @returns its markup */
  open(query?: string): Promise<string>
  /** Fills in what the last answer shows, and presses its button. */
  send(
    typed: Record<string, string>,
    headers?: Record<string, string>,
  ): Promise<Response & { markup: string }>
}

/** Publishes a form on a page of its own. */
export async function formPage(on: Used, given: Parameters<typeof simpleForm>[0] = {}): Promise<FormPage> {
  const path = `form-page-${(made += 1)}`
  const form = await publishForm(on, given, `Form ${made}`)
  const page = await publish(on, path, [block('form', { form })])
  const url = `${on.install.url}/p/${path}`
  let markup = ''
  return {
    form,
    page,
    url,
    async open(query = '') {
      markup = await (await lookAt(`${url}${query}`)).text()
      return markup
    },
    async send(typed, headers = {}) {
      if (!markup.includes('name="token"')) markup = await (await lookAt(url)).text()
      const answer = await fetch(url, {
        method: 'POST',
        redirect: 'manual',
        headers: { 'user-agent': computer, ...headers },
        body: new URLSearchParams({ ...hiddenValues(markup), ...typed }),
      })
      const text = await answer.text()
      if (answer.status !== 303) markup = text
      else markup = ''
      return Object.assign(answer, { markup: text })
    },
  }
}
