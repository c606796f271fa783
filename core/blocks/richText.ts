import { z } from 'zod'
import { mergeFormat, mergeParts, writtenField } from './mergeText.ts'
import { target, type Target } from './target.ts'

/** An id within a document: made once, and kept through moves. */
export const partId = z.string().regex(/^[a-z0-9]{6,20}$/)

const mark = z.discriminatedUnion('type', [
  z.strictObject({ type: z.literal('bold') }),
  z.strictObject({ type: z.literal('italic') }),
  z.strictObject({ type: z.literal('link'), attrs: z.strictObject({ id: partId, target }) }),
])
export type Mark = z.infer<typeof mark>

const marks = z.array(mark).max(3).optional()

const inline = z.discriminatedUnion('type', [
  z.strictObject({ type: z.literal('text'), text: z.string().min(1).max(20_000), marks }),
  z.strictObject({ type: z.literal('hardBreak'), marks }),
  z.strictObject({
    type: z.literal('mergeField'),
    attrs: z.strictObject({
      name: z.string().min(1).max(100),
      format: mergeFormat.nullable().default(null),
      fallback: z.string().max(100),
    }),
    marks,
  }),
])
export type Inline = z.infer<typeof inline>

const paragraph = z.strictObject({
  type: z.literal('paragraph'),
  content: z.array(inline).max(2_000).optional(),
})
export type Paragraph = z.infer<typeof paragraph>

const listItem = z.strictObject({ type: z.literal('listItem'), content: z.array(paragraph).min(1).max(50) })
export type ListItem = z.infer<typeof listItem>

const node = z.discriminatedUnion('type', [
  paragraph,
  z.strictObject({ type: z.literal('bulletList'), content: z.array(listItem).min(1).max(200) }),
  z.strictObject({ type: z.literal('orderedList'), content: z.array(listItem).min(1).max(200) }),
])
export type RichNode = z.infer<typeof node>

/** Rich text as the editor has it (Tiptap's JSON), with a closed set of nodes and marks. No HTML is stored. */
export const richText = z.strictObject({ type: z.literal('doc'), content: z.array(node).max(500) })
export type RichText = z.infer<typeof richText>

const inlinesOf = (text: RichText): Inline[][] =>
  text.content.flatMap((each) =>
    each.type === 'paragraph'
      ? [each.content ?? []]
      : each.content.flatMap((item) => item.content.map((part) => part.content ?? [])),
  )

const wordsOf = (each: Inline): string => {
  switch (each.type) {
    case 'text':
      return each.text
    case 'hardBreak':
      return '\n'
    case 'mergeField':
      return writtenField(each.attrs)
  }
}

/** Its paragraphs as plain text; a merge field stands as one types it. */
export const richTextParagraphs = (text: RichText): string[] =>
  inlinesOf(text).map((inlines) => inlines.map(wordsOf).join(''))

/** Its links, told by the mark's id; a link that is broken up by bold words is one. */
export function richTextLinks(text: RichText): { id: string; target: Target }[] {
  const links = new Map<string, Target>()
  for (const each of inlinesOf(text).flat())
    for (const one of each.marks ?? []) if (one.type === 'link') links.set(one.attrs.id, one.attrs.target)
  return [...links].map(([id, to]) => ({ id, target: to }))
}

/** The same text with new ids for its links. */
export function renewLinkIds(text: RichText, newId: () => string): RichText {
  const ids = new Map<string, string>()
  const renewed = (old: string): string => {
    const known = ids.get(old) ?? newId()
    ids.set(old, known)
    return known
  }
  return richText.parse(
    JSON.parse(JSON.stringify(text), (key, value: unknown) =>
      key === 'attrs' && typeof value === 'object' && value !== null && 'target' in value && 'id' in value
        ? { ...value, id: renewed(String(value.id)) }
        : value,
    ),
  )
}

/** Rich text of plain paragraphs. */
export const plainRichText = (...paragraphs: string[]): RichText => ({
  type: 'doc',
  content: paragraphs.map((text) => ({
    type: 'paragraph',
    ...(text && { content: [{ type: 'text', text }] }),
  })),
})

function inlinesFrom(line: string): Inline[] {
  return mergeParts(line).flatMap((part): Inline[] => {
    if ('field' in part) return [{ type: 'mergeField', attrs: part.field }]
    return part.text ? [{ type: 'text', text: part.text }] : []
  })
}

/** Rich text of paragraphs as one types them: with line breaks, and with merge fields as lines have them. */
export const typedRichText = (...paragraphs: string[]): RichText => ({
  type: 'doc',
  content: paragraphs.map((paragraph) => {
    const content = paragraph
      .split('\n')
      .flatMap((line, i): Inline[] => [
        ...(i > 0 ? [{ type: 'hardBreak' } as const] : []),
        ...inlinesFrom(line),
      ])
    return { type: 'paragraph', ...(content.length > 0 && { content }) }
  }),
})
