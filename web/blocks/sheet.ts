import type { Editor } from '@tiptap/core'
import type { Block } from '../../core/blocks/block.ts'
import type { BlockDocument, Section } from '../../core/blocks/document.ts'
import type { Painter } from './painter.ts'

/** What the sheet tells the editor. */
export interface SheetEvents {
  select: (id: string | null) => void
  /** A text of a block was written. */
  write: (id: string, path: string, words: string) => void
  /** Somebody goes into a rich text. */
  enter: (block: HTMLElement, id: string) => Editor | null
  key: (event: KeyboardEvent) => void
  /** So high is the document at its width (px). */
  resize: (height: number) => void
}

const frameStyle = `.b,section{cursor:default}.b.chosen,[id^="s-"].chosen{outline:2px solid #0E5A6B;outline-offset:4px}.b:hover{outline:1px solid #0E5A6B66;outline-offset:4px}.b.chosen::after,[id^="s-"].chosen::after{content:attr(data-name);position:absolute;left:-6px;top:-28px;background:#0E5A6B;color:#fff;font:600 12px/18px system-ui,sans-serif;padding:0 6px;border-radius:3px;white-space:nowrap;z-index:2}.b,[id^="s-"]{position:relative}[contenteditable]:focus{outline:0}.b:empty{min-height:28px}.ProseMirror{white-space:pre-wrap;outline:0}`

/**
 * The document as its readers will see it, in a frame of its own, drawn anew only where it has changed. One writes in
 * it.
 */
export class Sheet {
  private readonly page: Document
  private drawn = new WeakMap<Section, string>()
  private shown: readonly Section[] = []
  private style = ''
  private writingIn: string | null = null
  private rich: { editor: Editor; id: string } | null = null

  constructor(
    frame: HTMLIFrameElement,
    title: string,
    private painter: Painter,
    private readonly events: SheetEvents,
  ) {
    const page = frame.contentDocument
    if (!page) throw new Error('the sheet has no document')
    this.page = page
    page.documentElement.lang = 'en'
    page.title = title
    // Whatever is written or drawn, the frame is as high as the document.
    const view = page.defaultView
    if (view) new view.ResizeObserver(() => this.resize()).observe(page.body)
    page.addEventListener('click', (event) => this.clicked(event))
    page.addEventListener('focusin', (event) => this.entered(event))
    page.addEventListener('focusout', () => this.left())
    page.addEventListener('input', (event) => this.written(event))
    page.addEventListener('keydown', (event) => events.key(event))
    page.addEventListener('submit', (event) => event.preventDefault())
  }

  /** Draws the document; what somebody is writing in stays as it is. */
  draw(document: BlockDocument): void {
    this.setStyle(this.painter.style(document))
    const same =
      this.shown.length === document.sections.length &&
      this.shown.every(({ id }, i) => id === document.sections[i]?.id)
    let drawn = !same
    if (!same) {
      this.page.body.innerHTML = this.painter.body(document)
      dress(this.page.body)
    } else
      for (const [i, section] of document.sections.entries()) {
        const before = this.shown[i]
        if (before && before !== section && this.redraw(before, section)) drawn = true
      }
    this.shown = document.sections
    // A letter that somebody types is on the sheet already: nothing else is looked at then.
    if (drawn) this.letWrite()
  }

  /** Draws everything with something new: a picture that was uploaded, another brand. */
  renew(painter: Painter, document: BlockDocument): void {
    this.close()
    this.painter = painter
    this.drawn = new WeakMap()
    this.shown = []
    this.draw(document)
  }

  /** Frames what is selected, and names it. */
  choose(id: string | null, name: string): void {
    if (this.rich && this.rich.id !== id) this.close()
    for (const each of this.page.querySelectorAll('.chosen')) each.classList.remove('chosen')
    const element = id === null ? null : this.elementOf(id)
    element?.classList.add('chosen')
    element?.setAttribute('data-name', name)
    if (element && this.writingIn !== id) element.scrollIntoView({ block: 'nearest' })
  }

  /** Goes into the first text of a block, to write. */
  write(id: string): void {
    const block = this.elementOf(id)
    if (block?.classList.contains('text')) this.openRich(block, id)
    else block?.querySelector<HTMLElement>('[data-edit]')?.focus()
  }

  /** The rich text that somebody writes in. */
  get richText(): Editor | null {
    return this.rich?.editor ?? null
  }

  /** The height that the document needs at this width. */
  resize(): void {
    this.events.resize(Math.max(400, this.page.body.scrollHeight))
  }

  /** Ends writing in a rich text, and draws it as its readers see it. */
  close(): void {
    const { rich } = this
    if (!rich) return
    this.rich = null
    rich.editor.destroy()
    this.refresh(rich.id)
  }

  private elementOf(id: string): HTMLElement | null {
    return this.page.getElementById(`b-${id}`) ?? this.page.getElementById(`s-${id}`)
  }

  private setStyle(style: string): void {
    if (style === this.style) return
    this.style = style
    const view = this.page.defaultView
    if (!view) return
    const sheet = new view.CSSStyleSheet()
    sheet.replaceSync(`${style}${frameStyle}`)
    this.page.adoptedStyleSheets = [sheet]
  }

  private markupOf(section: Section): string | null {
    const known = this.drawn.get(section) ?? this.painter.section(section)
    if (known !== null) this.drawn.set(section, known)
    return known
  }

  /** A section as elements that stand nowhere yet. */
  private drawing(section: Section): Element | null {
    const markup = this.markupOf(section)
    if (markup === null) return null
    const template = this.page.createElement('template')
    template.innerHTML = markup
    dress(template.content)
    return template.content.firstElementChild
  }

  /** @returns whether anything was drawn anew */
  private redraw(before: Section, after: Section): boolean {
    const element = this.page.getElementById(`s-${after.id}`)
    if (!element) return false
    const open = [this.writingIn, this.rich?.id].filter((id) => id !== null && id !== undefined)
    if (!open.some((id) => element.querySelector(`#b-${id}`) !== null)) {
      const fresh = this.drawing(after)
      if (fresh) element.replaceWith(fresh)
      return fresh !== null
    }
    // Somebody writes in this section: its other blocks are exchanged one by one.
    const old = new Map(blocksOf(before).map((block) => [block.id, block]))
    const changed = blocksOf(after).filter((block) => !open.includes(block.id) && old.get(block.id) !== block)
    const fresh = changed.length > 0 ? this.drawing(after) : null
    for (const { id } of changed) {
      const drawn = fresh?.querySelector(`#b-${id}`)
      if (drawn) this.page.getElementById(`b-${id}`)?.replaceWith(drawn)
    }
    return changed.length > 0
  }

  /** Texts can be written in; blocks without any show what belongs there. */
  private letWrite(): void {
    for (const each of this.page.querySelectorAll<HTMLElement>('[data-edit]')) {
      if (each.contentEditable !== 'plaintext-only') each.contentEditable = 'plaintext-only'
      each.setAttribute('role', 'textbox')
      const block = each.closest<HTMLElement>('.b')
      const first = block?.querySelector('[data-edit]') === each
      each.dataset.guide = (first && block.dataset.guide) || 'Write here'
      each.setAttribute('aria-label', each.dataset.guide)
    }
    for (const block of this.page.querySelectorAll<HTMLElement>('.b.text'))
      block.classList.toggle('hollow', this.rich?.id !== block.id.slice(2) && !block.textContent.trim())
    for (const each of this.page.querySelectorAll<HTMLElement>('a,button,input,summary,video'))
      if (!each.isContentEditable) each.tabIndex = -1
  }

  private blockAt(event: Event): HTMLElement | null {
    return (event.target as HTMLElement | null)?.closest<HTMLElement>('.b') ?? null
  }

  private clicked(event: MouseEvent): void {
    const element = event.target as HTMLElement
    if (element.closest('a,button,label,summary')) event.preventDefault()
    const block = this.blockAt(event)
    const section = element.closest('[id^="s-"]')
    const id = block?.id.slice(2) ?? section?.id.slice(2) ?? null
    this.events.select(id)
    if (block && id !== null && block.classList.contains('text')) this.openRich(block, id)
  }

  private openRich(block: HTMLElement, id: string): void {
    if (this.rich?.id === id) return
    this.close()
    const editor = this.events.enter(block.querySelector<HTMLElement>('.rich') ?? block, id)
    this.rich = editor && { editor, id }
    block.classList.remove('hollow')
  }

  private entered(event: FocusEvent): void {
    const block = this.blockAt(event)
    if (!block) return
    const id = block.id.slice(2)
    this.writingIn = id
    this.events.select(id)
  }

  private left(): void {
    const id = this.writingIn
    this.writingIn = null
    if (id === null) return
    queueMicrotask(() => {
      if (this.writingIn !== id && this.rich?.id !== id) this.refresh(id)
    })
  }

  /** Draws a block as it is now, and nothing else: what is pressed at this moment must stay where it is. */
  private refresh(id: string): void {
    const section = this.shown.find((each) => blocksOf(each).some((block) => block.id === id))
    const drawn = section && this.drawing(section)?.querySelector(`#b-${id}`)
    const element = this.page.getElementById(`b-${id}`)
    if (drawn && element) {
      drawn.classList.toggle('chosen', element.classList.contains('chosen'))
      drawn.setAttribute('data-name', element.dataset.name ?? '')
      element.replaceWith(drawn)
    }
    this.letWrite()
  }

  private written(event: Event): void {
    const element = event.target as HTMLElement
    const path = element.dataset.edit
    const block = this.blockAt(event)
    if (path === undefined || !block) return
    this.events.write(block.id.slice(2), path, element.innerText.replace(/\n$/, ''))
  }
}

/** Styles of single elements, which markup may not bring along, are set one by one. */
function dress(root: ParentNode): void {
  for (const each of root.querySelectorAll<HTMLElement>('[data-style]')) {
    each.style.cssText = each.dataset.style ?? ''
    delete each.dataset.style
  }
}

const blocksOf = ({ columns }: Section): Block[] => columns.flatMap(({ blocks }) => blocks)
