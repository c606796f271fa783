import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, type EffectScope } from 'vue'
import * as api from '../../contract/api.ts'
import type { PageView } from '../../contract/pages.ts'
import { pageContent, type PageContent } from '../../core/pages/page.ts'
import { call } from '../api.ts'
import { contentOf } from '../../testing/documents.ts'
import { fakeServer, type FakeServer } from '../../testing/screen.ts'
import { keptContent, useDraft, type Draft, type DraftKind } from './draft.ts'

const at = '2026-11-24T10:00:00Z'
const state = { version: 1, revision: 1, savedAt: at, savedBy: 'Mara', changes: [], findings: [], others: [] }
const view: PageView = {
  ...state,
  id: 7,
  name: 'Page',
  path: 'page',
  purpose: 'any',
  state: 'draft',
  url: 'http://here/p/page',
  content: contentOf({ sections: [] }, 'Old'),
  publishedVersion: null,
  course: null,
  usedIn: [],
  versions: [],
}
const pages: DraftKind<PageContent> = {
  name: 'page',
  shape: pageContent,
  save: (id, body) => call(api.pages.save, { params: { id }, body }),
}
const titled = (title: string) => ({ ...view.content, title })

let server: FakeServer
let scope: EffectScope
let draft: Draft<PageContent>
beforeEach(() => {
  vi.useFakeTimers()
  localStorage.clear()
  server = fakeServer()
  scope = effectScope()
  draft = scope.run(() => useDraft(pages, view))!
})
afterEach(() => {
  scope.stop()
  vi.useRealTimers()
})
const saves = () =>
  server.sent('POST /pages/7/save') as { revision: number; over: boolean; content: { title: string } }[]
const wait = async (ms: number): Promise<void> => {
  await vi.advanceTimersByTimeAsync(ms)
  await flushPromises()
}

describe('a draft', () => {
  it('is saved after 0.8 seconds of quiet, once for all that was written', async () => {
    server.answers('POST /pages/7/save', { ...state, revision: 2 })
    for (const title of ['N', 'Ne', 'New']) {
      draft.set(titled(title))
      await wait(300)
    }
    expect(saves()).toEqual([])
    expect(keptContent(pages, 7)?.title).toBe('New')
    await wait(800)
    expect(saves()).toMatchObject([{ version: 1, revision: 1, over: false, content: { title: 'New' } }])
    expect([draft.unsaved.value, keptContent(pages, 7)]).toEqual([false, null])
    draft.set(titled('Newer'))
    await wait(800)
    expect(saves()[1]).toMatchObject({ revision: 2 })
  })

  it('stays in the browser while the server is away, and is sent when it is back', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('away')))
    draft.set(titled('Kept'))
    await wait(1_000)
    expect(draft.problem.value?.title).toBe('Nurtel is not responding')
    expect(keptContent(pages, 7)?.title).toBe('Kept')
    server = fakeServer()
    server.answers('POST /pages/7/save', { ...state, revision: 2 })
    await wait(3_000)
    expect(saves()).toMatchObject([{ content: { title: 'Kept' } }])
    expect(draft.problem.value).toBeNull()
  })

  it('that somebody else has changed is not saved over unless one says so', async () => {
    server.refuses('POST /pages/7/save', {
      status: 409,
      title: 'Tom has changed this page meanwhile',
      detail: '',
    })
    draft.set(titled('Mine'))
    await wait(1_000)
    expect([draft.conflict.value, draft.unsaved.value]).toEqual([true, true])
    draft.set(titled('Mine, longer'))
    await wait(10_000)
    expect(saves()).toHaveLength(1)
    server.answers('POST /pages/7/save', { ...state, version: 2 })
    expect(await draft.save(true)).toBe(true)
    expect(saves()[1]).toMatchObject({ over: true, content: { title: 'Mine, longer' } })
    expect(draft.conflict.value).toBe(false)
  })

  it('is saved when one leaves the editor in the middle of a word', async () => {
    server.answers('POST /pages/7/save', { ...state, revision: 2 })
    draft.set(titled('Leaving'))
    scope.stop()
    await flushPromises()
    expect(saves()).toMatchObject([{ content: { title: 'Leaving' } }])
  })

  it('that was kept and cannot be read is none', () => {
    localStorage.setItem('nurtel-page-7', '{broken')
    expect(keptContent(pages, 7)).toBeNull()
  })
})
