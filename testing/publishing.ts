import type { Block } from '../core/blocks/block.ts'
import type { PageContent } from '../core/pages/page.ts'
import { simpleForm } from '../core/capture/form.ts'
import { composer } from '../core/blocks/compose.ts'
import { contentOf, numberedIds } from './documents.ts'
import { made } from './people.ts'
import type { Used } from './useInstall.ts'
import { eventually } from './waiting.ts'

/** A browser as most people have one. */
export const computer = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140 Safari/537.36'

/** Asks for something of the public site as a browser does. */
export const lookAt = (url: string, headers: Record<string, string> = {}): Promise<Response> =>
  fetch(url, { redirect: 'manual', headers: { 'user-agent': computer, ...headers } })

/** Makes a form that visitors can use: first name, address and consent. @returns its id */
export async function publishForm(
  on: Used,
  given: Parameters<typeof simpleForm>[0] = {},
  name = 'Form',
): Promise<number> {
  const body = { name, content: simpleForm(given), publish: true }
  return (await made<{ id: number }>(on.mara.post('/forms', body))).id
}

/** Publishes a page of these blocks at a path, and waits until it is found. @returns its id */
export async function publish(
  on: Used,
  path: string,
  blocks: Block[],
  given: Partial<PageContent> = {},
  course: number | null = null,
): Promise<number> {
  const { section, document } = composer(numberedIds('published'))
  const content = { ...contentOf(document(section([{ blocks }])), path), ...given }
  const { id } = await made<{ id: number }>(
    on.mara.post('/pages', { name: path, path, purpose: 'any', content, course }),
  )
  const answer = await on.mara.post(`/pages/${id}/publish`, { version: 1, revision: 1 })
  if (answer.status !== 204) throw new Error(await answer.text())
  // Asked as a robot, which is not counted.
  await eventually(
    async () => (await lookAt(`${on.install.url}/p/${path}`, { 'user-agent': 'testbot' })).status !== 404,
  )
  return id
}
