import type { KnownThings } from '../audience/people/personAction.ts'
import { traitsOf, type Block } from '../blocks/block.ts'
import { fieldKey, fieldsIn, writtenField } from '../blocks/mergeText.ts'
import { textOf, walk } from '../blocks/walk.ts'
import { contrast, leastContrast } from '../pages/brand.ts'
import { findingsOfDocument, unknownFieldWords, type Finding, type Surroundings } from '../pages/findings.ts'
import { clickActions, emailLinks, type EmailContent } from './email.ts'
import { isLinkActionOpen } from './linkAction.ts'

const advice = (words: string, part: string | null = null): Finding => ({ level: 'advice', words, part })
const error = (words: string, part: string | null = null): Finding => ({ level: 'error', words, part })

/** Longer subjects are cut off in most lists of mails (common practice). */
const longestSubject = 60

/** Labels that say nothing of where they lead: a screen reader reads them alone. */
const empty = /^(click here|here|read more|more|learn more|link|this)[.!…]*$/i

/** Most letters are capitals. */
export function shouts(words: string): boolean {
  const letters = words.replace(/\{[^{}]*\}/g, '').match(/\p{L}/gu) ?? []
  const capitals = letters.filter((each) => each !== each.toLowerCase())
  return letters.length >= 6 && capitals.length / letters.length > 0.7
}

/** Some mailboxes cut off longer HTML (bytes; common practice). */
const cutOff = 102 * 1024

const colour = (style: string, property: string): string | undefined =>
  new RegExp(`(?:^|;)\\s*${property}\\s*:\\s*(#[0-9a-f]{6})\\b`, 'i').exec(style)?.[1]

/** Elements of own HTML whose colours of text and background, where both are given, are too close. */
function faintIn(markup: string): string[] {
  const found = [...markup.matchAll(/style="([^"]*)"/gi)].flatMap(([, style = '']) => {
    const ink = colour(style, 'color')
    const paper = colour(style, 'background(?:-color)?')
    if (ink === undefined || paper === undefined) return []
    const ratio = contrast(ink, paper)
    return ratio < leastContrast
      ? [`Text in ${ink} on ${paper} (contrast ${ratio.toFixed(1)}, 4.5 is needed)`]
      : []
  })
  return [...new Set(found)]
}

function findingsOfHeader(
  { subject, preheader, why, text }: EmailContent,
  { mergeNames, moments, now }: Surroundings,
): Finding[] {
  const found: Finding[] = []
  if (!subject.trim()) found.push(error('Write a subject'))
  if (subject.length > longestSubject)
    found.push(advice(`The subject has ${subject.length} letters: most lists show about ${longestSubject}`))
  if (shouts(subject)) found.push(advice('The subject shouts: write it in small letters'))
  if (/!{2,}|\?{2,}/.test(subject)) found.push(advice('One mark at the end of the subject is enough'))
  if (!preheader.trim())
    found.push(advice('Write a preheader: otherwise mailboxes show the first words of the email'))
  // Links stand in braces too in a text part of one's own.
  const ownText = text?.replace(/\{link \d{1,3}\}/g, '') ?? ''
  for (const field of [subject, preheader, why, ownText].flatMap(fieldsIn)) {
    if (!mergeNames.has(fieldKey(field.name))) found.push(error(unknownFieldWords(writtenField(field))))
    else if ((moments.get(fieldKey(field.name)) ?? Infinity) < now)
      found.push(advice(`“${field.name}” is past: change it under Shared details`))
  }
  return found
}

function findingsOfBlock(block: Block): Finding[] {
  const found: Finding[] = []
  if (block.kind === 'ownHtml')
    for (const words of faintIn(block.markup)) found.push(advice(`${words} is hard to read`, block.id))
  if (!traitsOf(block.kind).media.includes('email'))
    found.push(error(`An email cannot have this: ${traitsOf(block.kind).name}`, block.id))
  if (block.kind === 'button' && empty.test(block.label.trim()))
    found.push(advice(`“${block.label}” says nothing of where it leads`, block.id))
  if (block.kind === 'heading' && shouts(block.words))
    found.push(advice('This heading shouts: write it in small letters', block.id))
  return found
}

/** What is asked of an email as a whole. */
function findingsOfWhole(content: EmailContent, around: EmailSurroundings): Finding[] {
  const found: Finding[] = []
  const blocks = [...walk(content.document)].map(({ block }) => block)
  if (blocks.length === 0) found.push(error('Nothing is written yet'))
  else if (!blocks.some(({ kind }) => kind !== 'picture' && kind !== 'logo' && kind !== 'divider'))
    found.push(advice('Only pictures: who does not load them sees nothing. Write what they say'))
  if (around.htmlBytes > cutOff)
    found.push(
      advice(
        `Its HTML has ${Math.ceil(around.htmlBytes / 1000)} kB: some mailboxes cut off what is over 102 kB (common practice)`,
      ),
    )
  if (content.topic !== null && !around.topics.has(content.topic))
    found.push(error('The topic of this email was archived: choose another one'))
  if (content.text !== null && !content.text.trim())
    found.push(error('The text part is empty: write it, or let it be made of the blocks'))
  if (content.purpose === 'marketing' && emailLinks(content).length === 0 && blocks.length > 0)
    found.push(advice('It leads nowhere: give people one thing to do'))
  return found
}

/** Links that only a page can open. */
const findingsOfLinks = (content: EmailContent): Finding[] =>
  emailLinks(content).flatMap(({ block, label, target }) =>
    target.to === 'popUp' || target.to === 'nextStep' || target.to === 'product'
      ? [error(`“${label}” leads to something that opens on pages only`, block)]
      : [],
  )

/** Actions of links for which nothing is chosen, or something that is gone. */
const findingsOfClicks = (content: EmailContent, around: KnownThings): Finding[] =>
  clickActions(content).flatMap(({ link, actions }) =>
    actions.some((action) => isLinkActionOpen(action, around))
      ? [error(`Choose what a click on “${link.label}” does`, link.block)]
      : [],
  )

/** What an email must know besides of the install. */
export interface EmailSurroundings extends Surroundings, KnownThings {
  /** Whether each sender has said yes. */
  senders: ReadonlyMap<number, boolean>
  /** Of the HTML part as it goes out. */
  htmlBytes: number
}

function findingsOfSender({ sender }: EmailContent, { senders }: EmailSurroundings): Finding[] {
  if (sender === null || senders.get(sender) === true) return []
  return [
    error(
      senders.has(sender)
        ? 'The sender has not confirmed the address yet: open the link that was sent there'
        : 'The sender was deleted: choose another one',
    ),
  ]
}

/** Everything that would go wrong with an email or could be better, errors first. */
export function findingsOfEmail(content: EmailContent, around: EmailSurroundings): Finding[] {
  const blocks = [...walk(content.document)].map(({ block }) => block)
  return [
    ...findingsOfHeader(content, around),
    ...findingsOfSender(content, around),
    ...findingsOfWhole(content, around),
    ...blocks.filter((block) => textOf(block).length > 0 || block.kind !== 'text').flatMap(findingsOfBlock),
    ...findingsOfLinks(content),
    ...around.faint.map((words) => advice(`${words} is hard to read: choose other colours under Brand`)),
    ...findingsOfClicks(content, around),
    ...findingsOfDocument(content.document, around),
  ].sort((a, b) => Number(b.level === 'error') - Number(a.level === 'error'))
}
