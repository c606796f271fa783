import type { LiveSubject } from '../contract/live.ts'
import type { SiteView } from '../contract/pages.ts'
import { plainBrand } from '../core/pages/brand.ts'
import { noSettings } from '../core/pages/site.ts'
import { flushPromises, mount, type VueWrapper } from '@vue/test-utils'
import { createPinia, setActivePinia, type Pinia } from 'pinia'
import { vi } from 'vitest'
import { h, defineComponent, shallowRef, type Component } from 'vue'
import { createMemoryHistory, createRouter, type Router } from 'vue-router'
import { VApp } from 'vuetify/components/VApp'
import type { ProblemDetails } from '../contract/problems.ts'
import { platformTheme } from '../web/theme.ts'
import { routes } from '../web/router.ts'
import { useSession } from '../web/workspace/session.ts'

/** What a screen asked of the server. */
export interface Asked {
  method: string
  path: string
  body: unknown
}

type Answer = (asked: Asked) => unknown

/** Stands in for the server: answers by path, and remembers what it was asked. */
export interface FakeServer {
  asked: Asked[]
  /** Answers `GET /tags` or `POST /tags/3` from now on; a function is asked each time, and may take its time. */
  answers(what: string, body: unknown): void
  /** Refuses it from now on. */
  refuses(what: string, problem: Partial<ProblemDetails>): void
  /** The bodies with which a path was changed. */
  sent(what: string): unknown[]
}

class Refusal {
  constructor(readonly problem: Partial<ProblemDetails>) {}
}

/** Takes the place of the browser's `fetch`. What nobody has answered is a fault of the test. */
export function fakeServer(): FakeServer {
  const known = new Map<string, Answer>()
  const asked: Asked[] = []
  vi.stubGlobal('fetch', async (url: string, init: RequestInit = {}) => {
    const method = init.method ?? 'GET'
    const path = url.replace(/^\/api/, '')
    const body: unknown = typeof init.body === 'string' ? JSON.parse(init.body) : undefined
    asked.push({ method, path, body })
    const answer = known.get(`${method} ${path}`)
    // As a server does: not in the same breath.
    await Promise.resolve()
    if (init.signal?.aborted) throw new DOMException('aborted', 'AbortError')
    if (!answer)
      return new Response(JSON.stringify({ status: 404, title: `nobody answers ${path}`, detail: '' }), {
        status: 404,
      })
    const given = await answer({ method, path, body })
    if (given instanceof Refusal) {
      const problem = { status: 422, title: 'No', detail: '', ...given.problem }
      return new Response(JSON.stringify(problem), { status: problem.status })
    }
    return given === undefined ? new Response(null, { status: 204 }) : new Response(JSON.stringify(given))
  })
  return {
    asked,
    answers: (what, body) => known.set(what, typeof body === 'function' ? (body as Answer) : () => body),
    refuses: (what, problem) => known.set(what, () => new Refusal(problem)),
    sent: (what) => asked.filter(({ method, path }) => `${method} ${path}` === what).map(({ body }) => body),
  }
}

/** Any control, with all that one or the other of them has. */
type Control = HTMLElement &
  Pick<HTMLInputElement, 'value' | 'checked' | 'disabled'> &
  Pick<HTMLSelectElement, 'options' | 'selectedOptions'>

/** A component on a page, as the application shows it. */
export interface Shown {
  wrapper: VueWrapper
  router: Router
  /** Everything on the page, dialogs and menus too. */
  page: HTMLElement
  /** The control with this label: its text, `aria-label` or what is written in it. */
  control(label: string | RegExp): Control
  controls(label: string | RegExp): HTMLElement[]
  press(label: string | RegExp): Promise<void>
  /** Types into a control, and leaves it. */
  fill(label: string | RegExp, value: string): Promise<void>
  /** Types into a control, and stays in it. */
  type(label: string | RegExp, value: string): Promise<void>
  /** Opens a list, and chooses what has this title in it. */
  choose(label: string | RegExp, title: string): Promise<void>
  /** The titles that a list offers. */
  offered(label: string | RegExp): Promise<string[]>
  /** What stands in a control, as one reads it: what was typed or chosen. */
  shownIn(label: string | RegExp): string
  /** Adds a value to a control that takes several, by typing it. */
  addChip(label: string | RegExp, value: string): Promise<void>
  text(): string
}

const words = (element: Element | null | undefined): string =>
  (element?.textContent ?? '').replace(/\s+/g, ' ').trim()

/** The name that assistive technology reads out, as far as these screens need it. */
function nameOf(element: HTMLElement): string {
  const told = element.getAttribute('aria-label')
  if (told) return told
  const by = element.getAttribute('aria-labelledby')
  if (by) return words(document.getElementById(by))
  if (element.matches('button, a, [role=menuitem]')) return words(element)
  const label = element.closest('label') ?? document.querySelector(`label[for="${element.id}"]`)
  if (!label) return ''
  const copy = label.cloneNode(true) as HTMLElement
  for (const inner of copy.querySelectorAll('input, select, textarea, .fault')) inner.remove()
  return words(copy)
}

/** @param signedIn somebody of a business in this zone is signed in */
export async function show(
  component: Component,
  props: Record<string, unknown> = {},
  { path = '/', zone = 'Europe/Dublin' } = {},
): Promise<Shown> {
  document.body.innerHTML = ''
  const pinia: Pinia = createPinia()
  setActivePinia(pinia)
  useSession().me = {
    account: { name: 'Mara Ellery', address: 'mara@quillfeather.example' },
    business: {
      name: 'Quillfeather Press',
      zone,
      currency: 'EUR',
      senderName: 'Mara',
      senderAddress: 'mara@quillfeather.example',
    },
    csrfToken: 'token',
  }
  const router = createRouter({
    history: createMemoryHistory(),
    // The places of the application, with nothing in them.
    routes: routes.map(({ path, meta }) => ({
      path,
      ...(meta && { meta }),
      component: { render: () => null },
    })),
  })
  await router.push(path)
  // Models that the component changes come back to it, as from a parent.
  const given = shallowRef(props)
  const parent = defineComponent({
    setup: () => () =>
      h(VApp, () =>
        h(component, {
          ...given.value,
          'onUpdate:modelValue': (value: unknown) => {
            given.value = { ...given.value, modelValue: value }
          },
        }),
      ),
  })
  const theme = platformTheme()
  // Nothing has a height here: lists are as long as they are, whatever a window would show of them.
  theme.defaults.value = { ...theme.defaults.value, VVirtualScroll: { height: 10_000 } }
  const wrapper = mount(parent, {
    attachTo: document.body,
    global: { plugins: [pinia, router, theme] },
  })
  await flushPromises()

  const controls = (label: string | RegExp): HTMLElement[] =>
    [...document.querySelectorAll<HTMLElement>('input, select, textarea, button, a, [role=menuitem]')].filter(
      (each) =>
        // What has been closed may still be on its way out.
        !each.closest('.v-overlay:not(.v-overlay--active)') &&
        // Nobody reaches what lies behind an open dialog.
        (!document.querySelector('.v-dialog.v-overlay--active') || each.closest('.v-overlay')) &&
        (typeof label === 'string' ? nameOf(each) === label : label.test(nameOf(each))),
    )
  const control = (label: string | RegExp): Control => {
    const found = controls(label)
    if (found.length !== 1)
      throw new Error(`${found.length} controls are called ${String(label)}:\n${document.body.innerHTML}`)
    return found[0] as unknown as Control
  }
  /** Selects all that stands in a field and types something else. */
  const typeOver = (field: Control, value: string): void => {
    field.focus()
    if (field instanceof HTMLInputElement && field.type === 'text') field.select()
    field.dispatchEvent(new InputEvent('beforeinput', { bubbles: true }))
    field.value = value
    field.dispatchEvent(new InputEvent('input', { bubbles: true, inputType: 'insertText', data: value }))
  }
  const titleOf = (option: HTMLElement): string => words(option.querySelector('.v-list-item-title') ?? option)
  async function openList(label: string | RegExp): Promise<HTMLElement[]> {
    const field = control(label)
    field.focus()
    field.closest('.v-field')?.dispatchEvent(new MouseEvent('mousedown', { bubbles: true, cancelable: true }))
    await flushPromises()
    const list = document.getElementById(field.getAttribute('aria-controls') ?? '')
    return [...(list ?? document).querySelectorAll<HTMLElement>('[role=option]')]
  }
  return {
    wrapper,
    router,
    page: document.body,
    control,
    controls,
    async press(label) {
      control(label).click()
      await flushPromises()
    },
    async fill(label, value) {
      const field = control(label)
      typeOver(field, value)
      field.dispatchEvent(new Event('change', { bubbles: true }))
      field.blur()
      await flushPromises()
    },
    async type(label, value) {
      typeOver(control(label), value)
      await flushPromises()
    },
    async choose(label, title) {
      const options = await openList(label)
      const option = options.find((each) => titleOf(each) === title)
      if (!option) throw new Error(`${String(label)} offers no ${title}: ${options.map(titleOf).join(', ')}`)
      option.click()
      await flushPromises()
    },
    async offered(label) {
      return (await openList(label)).map(titleOf)
    },
    shownIn(label) {
      const field = control(label)
      const chosen = field
        .closest('.v-input')
        ?.querySelectorAll('.v-select__selection, .v-autocomplete__selection, .v-combobox__selection')
      return chosen?.length ? [...chosen].map(words).join(', ') : field.value
    },
    async addChip(label, value) {
      const field = control(label)
      typeOver(field, value)
      await flushPromises()
      field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }))
      await flushPromises()
    },
    text: () => words(document.body),
  }
}

/** What a component's model has become. */
export function modelOf(shown: Shown, component: Component): unknown {
  return (shown.wrapper.findComponent(component).props() as { modelValue: unknown }).modelValue
}

/** The server's stream of changes, in the place of the browser's own `EventSource`. */
export class FakeStream extends EventTarget {
  static last: FakeStream
  closed = false
  constructor() {
    super()
    FakeStream.last = this
  }
  close(): void {
    this.closed = true
  }
  tell(subject: LiveSubject): void {
    this.dispatchEvent(new MessageEvent('change', { data: subject }))
  }
}

/** Presses the button that says this, or is called so. */
export function pressButton(words: string): void {
  const found = [...document.querySelectorAll<HTMLButtonElement>('button')].find(
    (each) => each.textContent.trim() === words || each.getAttribute('aria-label') === words,
  )
  if (!found) throw new Error(`no button says “${words}”`)
  found.click()
}

/** Types into the first line of the dialog that is open. */
export function typeInDialog(words: string): void {
  const line = document.querySelector<HTMLInputElement>('.v-dialog input')
  if (!line) throw new Error('no dialog has a line to type in')
  line.value = words
  line.dispatchEvent(new Event('input'))
}

/** Sends the form of the dialog that is open. */
export function submitDialog(): void {
  const form = document.querySelector<HTMLFormElement>('.v-dialog form')
  if (!form) throw new Error('no dialog with a form is open')
  form.dispatchEvent(new Event('submit'))
}

/** What the editor chooses from and draws with, of a business that has nothing yet. */
export const emptySite = (given: Partial<SiteView> = {}): SiteView => ({
  business: { name: 'Quillfeather Press', postalAddress: '4 Sizing Lane', zone: 'Europe/Dublin' },
  publicUrl: 'http://127.0.0.1:4600',
  brand: plainBrand,
  settings: noSettings,
  pages: [],
  pictures: [],
  details: [],
  files: [],
  tags: [],
  forms: [],
  popUps: [],
  namedLinks: [],
  junctions: [],
  quizzes: [],
  products: [],
  currency: 'EUR',
  deadlines: [],
  scorecards: [],
  emails: [],
  fields: [],
  topics: [],
  followups: [],
  courses: [],
  savedSections: [],
  ...given,
})
