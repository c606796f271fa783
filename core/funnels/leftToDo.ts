import { walk } from '../blocks/walk.ts'
import type { BlockDocument } from '../blocks/document.ts'
import { textOf } from '../blocks/walk.ts'

/** A page or an email of a funnel, as far as it is written. */
export interface WrittenThing {
  kind: 'page' | 'email'
  id: number
  name: string
  document: BlockDocument
  /** It says something else than its starter wrote. */
  touched: boolean
}

/** What is known of how far a funnel is. */
export interface FunnelProgress {
  id: number
  things: readonly WrittenThing[]
  /** Null when nothing of it waits for a file. */
  fileChosen: boolean | null
  senderConfirmed: boolean
  postalAddress: boolean
  /** A domain of the business's own. */
  domain: boolean
  icon: boolean
  /** Asks for consent before others count; or nobody else counts. */
  countedBy: 'none' | 'withConsent'
  rehearsed: boolean
  errors: number
  live: boolean
}

export interface LeftToDo {
  key: string
  words: string
  done: boolean
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

function textOfThing({ kind, id, name, document, touched }: WrittenThing): LeftToDo {
  const empty = emptyParts(document)
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

/** What is left to do until a funnel is live, in the order in which one does it; each is ticked as it is done. */
export function leftToDo(progress: FunnelProgress): LeftToDo[] {
  const { id, things, fileChosen, errors, live } = progress
  const item = (
    key: string,
    words: string,
    done: boolean,
    to: string | null,
    hint: string,
    optional = true,
  ): LeftToDo => ({ key, words, done, to, hint: done ? '' : hint, optional })
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
    ...things.map(textOfThing),
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
      progress.countedBy === 'withConsent',
      '/library/site',
      'Only if you want to: visitors are asked for consent first, and counted by Nurtel either way',
    ),
    item(
      'mended',
      'Mend what the check finds',
      errors === 0,
      `/funnels/${id}?check`,
      `${errors} ${errors === 1 ? 'error keeps' : 'errors keep'} it from going live`,
      false,
    ),
    item(
      'rehearsed',
      'Rehearse it',
      progress.rehearsed,
      `/funnels/${id}/stage`,
      'Go through it as a made-up visitor',
    ),
    item('live', 'Go live', live, null, 'Everything of it that is a draft goes live with it', false),
  ]
}
