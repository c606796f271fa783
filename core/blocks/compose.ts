import { freshBlock, type Block, type BlockKind } from './block.ts'
import { section, type BlockDocument, type Section } from './document.ts'
import { typedRichText, type RichText } from './richText.ts'
import type { z } from 'zod'

/** What a block holds when it is composed: all that differs from a new one. */
export type Given<K extends BlockKind> = Partial<Omit<Block<K>, 'id' | 'kind'>>

/** Writes documents in code: starting points and the demo's pages. */
export interface Composer {
  block: <K extends BlockKind>(kind: K, given?: Given<K>) => Block<K>
  /** Paragraphs as one types them, with merge fields as lines have them. */
  text: (...paragraphs: string[]) => Block<'text'>
  rich: (content: RichText['content']) => Block<'text'>
  /** A section of columns with these shares. */
  section: (
    columns: readonly { share?: number; blocks: Block[] }[],
    look?: z.input<typeof section>['look'],
  ) => Section
  document: (...sections: Section[]) => BlockDocument
}

/** @param newId makes the ids of all parts */
export function composer(newId: () => string): Composer {
  return {
    block: (kind, given = {}) => freshBlock(kind, newId(), given),
    text: (...paragraphs) => freshBlock('text', newId(), { content: typedRichText(...paragraphs) }),
    rich: (content) => freshBlock('text', newId(), { content: { type: 'doc', content } }),
    section: (columns, look = {}) =>
      section.parse({
        id: newId(),
        look,
        columns: columns.map(({ share = 1, blocks }) => ({ id: newId(), share, blocks })),
      }),
    document: (...sections) => ({ sections }),
  }
}
