import { Editor, Mark, mergeAttributes, Node } from '@tiptap/core'
import StarterKit from '@tiptap/starter-kit'
import { richText, type RichText } from '../../core/blocks/richText.ts'
import { mergeFormat, writtenField } from '../../core/blocks/mergeText.ts'

/** A link with our own target; its id stays through edits. */
const Link = Mark.create({
  name: 'link',
  inclusive: false,
  addAttributes: () => ({ id: { rendered: false }, target: { rendered: false } }),
  parseHTML: () => [],
  renderHTML: ({ HTMLAttributes }) => ['a', mergeAttributes(HTMLAttributes), 0],
})

/** A merge field, shown as one types it. */
const MergeFieldNode = Node.create({
  name: 'mergeField',
  group: 'inline',
  inline: true,
  atom: true,
  addAttributes: () => ({
    name: { rendered: false },
    format: { default: null, rendered: false },
    fallback: { default: '', rendered: false },
  }),
  parseHTML: () => [],
  renderHTML: ({ node: { attrs } }) => [
    'span',
    {},
    writtenField({
      name: String(attrs.name),
      format: mergeFormat.safeParse(attrs.format).data ?? null,
      fallback: String(attrs.fallback),
    }),
  ],
})

/** Takes out what is empty or unknown, so that only what the closed shape allows is ever stored. */
function cleaned(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(cleaned)
  if (typeof value !== 'object' || value === null) return value
  const { type, ...rest } = value as Record<string, unknown>
  const known = ['content', 'text', 'marks', 'attrs'].filter((key) => rest[key] !== undefined)
  const attrs = type === 'link' || type === 'mergeField'
  return {
    type,
    ...Object.fromEntries(
      known
        .filter((key) => key !== 'attrs' || attrs)
        .map((key) => [key, key === 'attrs' ? rest.attrs : cleaned(rest[key])]),
    ),
  }
}

/** What an editor holds, as it is stored; null while it cannot be stored. */
export function contentOf(editor: Editor): RichText | null {
  const read = richText.safeParse(cleaned(editor.getJSON()))
  return read.success ? read.data : null
}

/**
 * Lets somebody write in an element. Undoing is the document's, not the editor's own.
 * @param onChange is told after each edit
 */
export function openRichText(
  element: HTMLElement,
  content: RichText,
  { label, onChange }: { label: string; onChange: (content: RichText) => void },
): Editor {
  element.replaceChildren()
  return new Editor({
    element,
    content,
    autofocus: 'end',
    injectCSS: false,
    editorProps: { attributes: { 'aria-label': label, role: 'textbox', 'aria-multiline': 'true' } },
    extensions: [
      StarterKit.configure({
        heading: false,
        blockquote: false,
        code: false,
        codeBlock: false,
        horizontalRule: false,
        strike: false,
        underline: false,
        link: false,
        undoRedo: false,
        dropcursor: false,
        gapcursor: false,
        trailingNode: false,
      }),
      Link,
      MergeFieldNode,
    ],
    onUpdate: ({ editor }) => {
      const written = contentOf(editor)
      if (written) onChange(written)
    },
  })
}
