import { randomUUID } from 'node:crypto'
import { composer } from '../../core/blocks/compose.ts'
import { emptyEmail } from '../../core/email/email.ts'
import type { Database } from '../../server/database/connect.ts'
import { publishNewEmail } from '../../server/email/emails.ts'

/** What the text of a letter is made of. */
const sentence =
  'Paper has a grain as wood has: its fibres lie in the direction in which the sheet was made — “along” it, as binders say — and a fold across them cracks. '

/** Bytes of the HTML part of the messages that are measured: with its text part and links a message has 20 kB then. */
const letterSize = 13_500

/** Publishes a personal letter whose HTML makes messages of about twenty kilobytes. @returns its id and what its HTML is */
export async function publishLetter(database: Database): Promise<{ email: number; html: string }> {
  const { block, text, section, document } = composer(
    () => `b${randomUUID().replaceAll('-', '').slice(0, 12)}`,
  )
  const doing = { by: 'bench', at: new Date() }
  const publish = async (paragraphs: number): Promise<{ email: number; html: string }> => {
    const blocks = Array.from({ length: 3 }, (_, n) => [
      block('heading', { words: n === 0 ? "Good morning, {first name or 'reader'}" : `Part ${n + 1}` }),
      ...Array.from({ length: paragraphs }, () => text(sentence.repeat(2))),
      block('button', {
        label: 'Read it in full',
        target: { to: 'web', url: `https://quillfeather.example/${n}` },
      }),
    ]).flat()
    const content = emptyEmail({
      subject: 'The letter of November, {first name}',
      preheader: 'On grain — and on folding',
      document: document(section([{ blocks }])),
    })
    return database.inTransaction(async (tx) => {
      const { id } = await publishNewEmail(tx, { name: `Letter ${randomUUID()}`, content }, doing)
      const made = await tx.row<{ html: string }>(
        'select html_template html from email_version where email_id = $1',
        [id],
      )
      return { email: id, html: made?.html ?? '' }
    })
  }
  let paragraphs = 1
  for (;;) {
    const letter = await publish(paragraphs)
    if (letter.html.length >= letterSize) return letter
    paragraphs += 1
  }
}
