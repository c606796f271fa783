import { z } from 'zod'
import { walk } from '../blocks/walk.ts'
import type { BlockDocument } from '../blocks/document.ts'
import { textOf } from '../blocks/walk.ts'

const id = z.number().int().positive()

/** How far a funnel is, but for what its check finds. */
export const funnelProgress = z.object({
  /** Its pages and emails, as far as they are written. */
  things: z.array(
    z.object({
      kind: z.enum(['page', 'email']),
      id,
      name: z.string(),
      /** Parts in which nothing is written yet. */
      empty: z.number().int(),
      /** It says something else than its starter wrote. */
      touched: z.boolean(),
    }),
  ),
  /** Null when nothing of it gives a file. */
  fileChosen: z.boolean().nullable(),
  senderConfirmed: z.boolean(),
  postalAddress: z.boolean(),
  /** A domain of the business's own. */
  domain: z.boolean(),
  icon: z.boolean(),
  /** Others count its visitors, too, once these have agreed. */
  countedByOthers: z.boolean(),
  rehearsed: z.boolean(),
  live: z.boolean(),
})
export type FunnelProgress = z.infer<typeof funnelProgress>
type WrittenThing = FunnelProgress['things'][number]

export interface ChecklistItem {
  key: string
  words: string
  done: boolean
  /** Where it is done. */
  to: string | null
  hint: string
  /** A funnel can go live without it. */
  optional: boolean
}

/** Kinds of blocks that one writes. */
const written = new Set(['heading', 'text', 'list', 'quotes', 'questions'])

/** Parts with guidance in which nothing is written yet. */
export const emptyParts = (document: BlockDocument): number =>
  [...walk(document)].filter(
    ({ block }) => block.guidance && written.has(block.kind) && textOf(block).length === 0,
  ).length

/** What is written in a document, for telling whether somebody has written since. */
export const wordsIn = (document: BlockDocument): string =>
  [...walk(document)].flatMap(({ block }) => (written.has(block.kind) ? textOf(block) : [])).join('\n')

function itemOf({ kind, id, name, empty, touched }: WrittenThing): ChecklistItem {
  const hint =
    empty > 0
      ? `${empty} ${empty === 1 ? 'part is' : 'parts are'} still empty`
      : touched
        ? ''
        : 'These are our words: make them yours'
  return {
    key: `${kind} ${id}`,
    words: `Write “${name}”`,
    done: touched && empty === 0,
    to: kind === 'page' ? `/library/pages/${id}` : `/library/emails/${id}`,
    hint,
    optional: true,
  }
}

/**
 * What there is to do until a funnel is live, in the order in which one does it; each is ticked as it is done.
 * @param errors that its check finds
 */
export function checklist(funnel: number, progress: FunnelProgress, errors: number): ChecklistItem[] {
  const { things, fileChosen, live } = progress
  const item = (
    key: string,
    words: string,
    done: boolean,
    to: string | null,
    hint: string,
    optional = true,
  ): ChecklistItem => ({ key, words, done, to, hint: done ? '' : hint, optional })
  return [
    ...(fileChosen === null
      ? []
      : [
          item(
            'file',
            'Choose the file',
            fileChosen,
            null,
            'It is put into the page and the email that give it',
            false,
          ),
        ]),
    ...things.map(itemOf),
    item(
      'sender',
      'Confirm the sender',
      progress.senderConfirmed,
      '/outbox/sending',
      'By the link in an email to that address',
    ),
    item(
      'address',
      'Write your postal address',
      progress.postalAddress,
      '/outbox/sending',
      'Marketing cannot go out without it',
      false,
    ),
    item(
      'domain',
      'Connect your domain',
      progress.domain,
      '/library/site',
      'Until then its pages have the address of this install',
    ),
    item('icon', 'Choose an icon for the browser tab', progress.icon, '/library/site', ''),
    item(
      'tracking',
      'Count with the help of others',
      progress.countedByOthers,
      '/library/site',
      'Only if you want to: visitors are asked for consent first, and counted by Nurtel either way',
    ),
    item(
      'mended',
      'Mend what the check finds',
      errors === 0,
      `/funnels/${funnel}?check`,
      `${errors} ${errors === 1 ? 'error keeps' : 'errors keep'} it from going live`,
      false,
    ),
    item(
      'rehearsed',
      'Rehearse it',
      progress.rehearsed,
      `/funnels/${funnel}/stage`,
      'Go through it as a made-up visitor',
    ),
    item('live', 'Go live', live, null, 'Everything of it that is a draft goes live with it', false),
  ]
}
