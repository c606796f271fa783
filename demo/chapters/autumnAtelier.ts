import { composer } from '../../core/blocks/compose.ts'
import type { Block } from '../../core/blocks/block.ts'
import { emailContent } from '../../core/email/email.ts'
import type { PageContent } from '../../core/pages/page.ts'
import type { Queries } from '../../server/database/connect.ts'
import type { Doing } from '../../server/blocks/drafts.ts'
import { formContent } from '../../core/capture/form.ts'
import { formDrafts } from '../../server/capture/formDrafts.ts'
import { emailDrafts } from '../../server/email/emailDrafts.ts'
import { makeFunnel } from '../../server/funnels/making.ts'
import { pageDrafts } from '../../server/pages/drafts.ts'
import { randomPartId } from '../../server/pages/partIds.ts'

const { block, text, section } = composer(randomPartId)
const name = 'Autumn Atelier'

async function idOf(q: Queries, table: 'page' | 'form' | 'email', part: string): Promise<number> {
  const row = await q.row<{ id: number }>(`select id from ${table} where name = $1`, [`${name}: ${part}`])
  if (!row) throw new Error(`the starter has made no ${part}`)
  return row.id
}

async function writePage(
  q: Queries,
  part: string,
  write: (content: PageContent) => PageContent,
  doing: Doing,
): Promise<void> {
  const id = await idOf(q, 'page', part)
  const { content, number: version, revision } = await pageDrafts.newest(q, id)
  await pageDrafts.save(q, id, { version, revision, over: false, content: write(content) }, doing)
}

const withBlocks = (content: PageContent, ...blocks: Block[]): PageContent => ({
  ...content,
  document: { sections: [...content.document.sections, section([{ blocks }], { width: 'narrow' })] },
})

/** Half written, and full of what one overlooks: the check finds it all. */
export async function writeAtelier(q: Queries, doing: Doing): Promise<number> {
  const id = await makeFunnel(
    q,
    {
      name,
      goal: 'waitingList',
      labels: ['autumn'],
      starter: 'waiting-list',
      path: 'atelier',
      currency: 'EUR',
      opens: '2026-09-07',
      line: [],
    },
    doing,
  )
  // Called as she calls her tags.
  for (const [from, to] of [
    ['waiting list', 'Waits for autumn'],
    ['buyers', 'With us in autumn'],
  ])
    await q.rows('update tag set name = $2 where name = $1', [`${name}: ${from}`, to])
  await writePage(
    q,
    'waiting list page',
    (content) =>
      withBlocks(
        { ...content, description: '' },
        text('Dear {firstname}, six Sundays at the long table, with twelve people.'),
        block('countdown', { until: '2026-09-07T08:00:00Z', words: 'The doors open in', after: 'Open' }),
        block('video', { title: 'A look into the room' }),
      ),
    doing,
  )
  await writePage(q, 'thank-you page', (content) => ({ ...content, listed: true }), doing)
  await writePage(
    q,
    'sales page',
    (content) =>
      withBlocks(
        content,
        block('picture', {}),
        block('button', { label: 'Keep my place', target: { to: 'nowhere' } }),
        block('button', {
          label: 'Where the room is',
          target: { to: 'web', url: 'https://map.quillfeather.example/' },
        }),
      ),
    doing,
  )
  const form = await idOf(q, 'form', 'form')
  const { content, number: version, revision } = await formDrafts.newest(q, form)
  const [first, ...rest] = content.steps
  if (!first) throw new Error('a form without a step')
  const asked = [
    { asks: 'lastName', id: 'lastname1', label: 'Last name' },
    { asks: 'phone', id: 'telephone', label: 'Phone' },
    { asks: 'country', id: 'country01', label: 'Country' },
  ].map((field) => ({ ...field, required: true }))
  const steps = [{ ...first, fields: [...first.fields, ...asked] }, ...rest]
  await formDrafts.save(
    q,
    form,
    { version, revision, over: false, content: formContent.parse({ ...content, steps }) },
    doing,
  )
  const email = await idOf(q, 'email', 'last call')
  const draft = await emailDrafts.newest(q, email)
  await emailDrafts.save(
    q,
    email,
    {
      version: draft.number,
      revision: draft.revision,
      over: false,
      content: { ...emailContent.parse(draft.content), subject: '' },
    },
    doing,
  )
  return id
}
