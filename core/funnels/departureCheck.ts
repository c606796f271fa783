import { missingIn } from '../audience/segments/references.ts'
import type { Target } from '../blocks/target.ts'
import { conditionsIn, walk } from '../blocks/walk.ts'
import { consentsOf } from '../capture/form.ts'
import { mayBeListed } from '../pages/findings.ts'
import { purposes } from '../pages/page.ts'
import {
  placeOf,
  tracksOf,
  type CheckedPage,
  type CheckedSorter,
  type CheckedStation,
  type FunnelSurroundings,
  type Say,
} from './checkedLine.ts'
import type { FunnelFinding } from './finding.ts'
import { mendOfBlock } from './mending.ts'
import { isReached, isSameCourse, leadsFrom, leadsTo } from './reaching.ts'
import { saySales } from './salesFindings.ts'

/** Seconds; longer films on a thank-you page are left before their end (common practice). */
const shortFilm = 60

/** What a page's own check says, with its name before it and what puts it right. */
function sayOwn(
  page: CheckedPage,
  { waitsForFile, fileIsMissing }: FunnelSurroundings,
  leadsOn: boolean,
  say: Say,
): void {
  const blocks = new Map([...walk(page.content.document)].map(({ block }) => [block.id, block]))
  for (const { level, words, part } of page.findings) {
    const block = part === null ? undefined : blocks.get(part)
    // Said of the whole, more plainly.
    if (fileIsMissing && block && waitsForFile.has(block.id)) continue
    if (words === mayBeListed) continue
    say(
      level,
      `“${page.name}”: ${words}`,
      part === null ? placeOf(page) : `${placeOf(page)}?part=${part}`,
      block && mendOfBlock(block, { in: 'page', id: page.id }, leadsOn),
    )
  }
}

function sayLinks(page: CheckedPage, say: Say): void {
  for (const { block } of walk(page.content.document))
    if (page.purpose === 'sales' && block.kind === 'button' && block.target.to === 'web' && !block.newWindow)
      say(
        'advice',
        `“${page.name}”: “${block.label}” leaves the sales page: let it open a new window`,
        `${placeOf(page)}?part=${block.id}`,
        { does: 'openNewWindow', page: page.id, block: block.id },
      )
}

function sayFilms(page: CheckedPage, { filmLengths, now }: FunnelSurroundings, say: Say): void {
  for (const { block } of walk(page.content.document)) {
    const part = `${placeOf(page)}?part=${block.id}`
    if (block.kind === 'video' && block.source?.from === 'file' && page.purpose === 'thankYou') {
      const seconds = filmLengths[block.source.file] ?? 0
      if (seconds > shortFilm)
        say(
          'advice',
          `“${page.name}”: the video takes ${Math.round(seconds)} seconds: a minute is plenty here`,
          part,
        )
    }
    if (block.kind === 'countdown' && block.until !== null && Date.parse(block.until) < now)
      say('advice', `“${page.name}”: the countdown has ended: set another date, or take it out`, part, {
        does: 'removeBlock',
        in: 'page',
        id: page.id,
        block: block.id,
      })
  }
}

/** The file that a file page promises: is there one, and does it come by email as well? */
function sayPromise(
  page: CheckedPage,
  line: readonly CheckedStation[],
  { fileIsMissing }: FunnelSurroundings,
  say: Say,
): void {
  if (page.purpose !== 'file') return
  const files = leadsFrom(page).flatMap((target) => (target.to === 'file' ? [target.file] : []))
  if (files.length === 0) {
    if (!fileIsMissing)
      say('error', `“${page.name}” gives no file: choose where its button leads`, placeOf(page))
    return
  }
  const pages = line.flatMap(tracksOf)
  const mailed = [
    ...pages.flatMap((each) => each.followups.flatMap(({ leads }) => leads)),
    ...pages
      .flatMap(({ forms }) => forms.flatMap(({ content }) => content.actions))
      .flatMap((action): Target[] =>
        action.does === 'sendFile' && action.file !== null ? [{ to: 'file', file: action.file }] : [],
      ),
  ]
  const comes = mailed.some(
    (target) => (target.to === 'file' && files.includes(target.file)) || leadsTo(target, page),
  )
  if (!comes)
    say('advice', `The file of “${page.name}” is not mailed: who closes the page has lost it`, placeOf(page))
}

function sayForms(page: CheckedPage, { isLive }: FunnelSurroundings, say: Say): void {
  for (const { id, name, state, content } of page.forms) {
    const place = `/library/forms/${id}`
    if (isLive && state !== 'live') say('error', `“${name}” is not live: publish it`, place)
    const sends = page.followups.filter((each) => each.sendsMarketing)
    if (consentsOf(content).length === 0 && sends.length > 0)
      say(
        'error',
        `“${name}” asks for no consent, and “${sends[0]?.name}” sends marketing: nobody would get it`,
        place,
      )
  }
}

function sayFollowups(page: CheckedPage, { isLive }: FunnelSurroundings, say: Say): void {
  for (const { id, name, state, own } of page.followups)
    if (state === 'draft' && isLive && own)
      say('error', `“${name}” begins here and is not live: nobody gets its emails`, `/follow-ups/${id}`)
    else if (state === 'paused') say('advice', `“${name}” begins here and is paused`, `/follow-ups/${id}`)
    else if (state === 'closing')
      say('advice', `“${name}” begins here and lets nobody in any more`, `/follow-ups/${id}`)
}

function findingsOfSorter(
  title: string,
  { kind, id, state, findings }: CheckedSorter,
  { isLive }: FunnelSurroundings,
): FunnelFinding[] {
  const part = `/library/${kind === 'quiz' ? 'quizzes' : 'junctions'}/${id}`
  const own = findings.map(({ level, words }): FunnelFinding => ({
    level,
    words: `“${title}”: ${words}`,
    part,
  }))
  if (state === 'archived')
    return [{ level: 'error', words: `“${title}” is archived: bring it back, or take it out`, part }, ...own]
  return isLive && state === 'draft'
    ? [{ level: 'error', words: `“${title}” is not live: publish it`, part }, ...own]
    : own
}

function findingsOfPage(
  page: CheckedPage,
  line: readonly CheckedStation[],
  place: number,
  around: FunnelSurroundings,
): FunnelFinding[] {
  const found: FunnelFinding[] = []
  const say: Say = (level, words, part = placeOf(page), mend) => {
    found.push({ level, words, part, ...(mend && { mend }) })
  }
  if (page.state === 'archived') say('error', `“${page.name}” is archived: bring it back, or take it out`)
  else if (around.isLive && page.state === 'draft') say('error', `“${page.name}” is not live: publish it`)
  if (!purposes[page.purpose].listed && page.content.listed)
    say(
      'error',
      `“${page.name}” is a ${purposes[page.purpose].name}, and search engines may list it: turn that off`,
      placeOf(page),
      { does: 'unlist', page: page.id },
    )
  const asked = [
    ...conditionsIn(page.content.document),
    ...(page.content.limitedTo ? [page.content.limitedTo.people] : []),
  ]
  const gone = [...new Set(asked.flatMap((each) => missingIn(each, around.names)))]
  if (gone.length > 0)
    say('error', `“${page.name}” asks about something that was deleted: ${gone.join(', ')}`)
  sayForms(page, around, say)
  sayFollowups(page, around, say)
  for (const other of page.otherFunnels)
    say('advice', `“${page.name}” stands in “${other}” too: its next step can be only one of the two`)
  saySales(page, line, place, say)
  sayPromise(page, line, around, say)
  sayFilms(page, around, say)
  sayLinks(page, say)
  sayOwn(page, around, place < line.length - 1, say)
  return found
}

/** What is wrong with the funnel as a whole, wherever its line leads. */
function findingsOfWhole(line: readonly CheckedStation[], around: FunnelSurroundings): FunnelFinding[] {
  const found: FunnelFinding[] = []
  const say = (level: FunnelFinding['level'], words: string, part: string | null = null): void => {
    found.push({ level, words, part })
  }
  if (around.fileIsMissing)
    say('error', 'The file that it gives is missing: choose it under “What is left to do”')
  for (const name of around.samePath) say('error', `“${name}” has the same path: give one of them another`)
  if (around.hasEnded) say('advice', 'It is over: its visitors are led on. Set another end, or archive it')
  if (around.endsNowhere)
    say('error', 'It begins or ends at a moment, and nobody has said where visitors go before and after')
  const sends = line.flatMap(tracksOf).some(({ followups }) => followups.some((each) => each.sendsMarketing))
  if (around.takes === 'test' && line.flatMap(tracksOf).some(({ afterOrder }) => afterOrder.length > 0))
    say('advice', 'Buyers cannot pay with money yet: take payments under Results, Orders', '/results/orders')
  if (sends && !around.postalAddress.trim())
    say('error', 'Write your postal address: marketing cannot go out without it', '/outbox/sending')
  for (const words of around.faint)
    say('advice', `${words} is hard to read: choose other colours`, '/library/brand')
  return found
}

/**
 * What keeps a funnel from leading its visitors from the first station to the last, errors first. What is wrong with
 * an email, a form or a follow-up by itself is found by their own checks.
 */
export function checkFunnel(line: readonly CheckedStation[], around: FunnelSurroundings): FunnelFinding[] {
  if (line.length === 0)
    return [
      { level: 'error', words: 'There is no step yet: add the page that people come to first', part: null },
    ]
  const ofStations = line.flatMap((station, i): FunnelFinding[] => {
    const { id, title, kind, page } = station
    if ((kind === 'page' && page === null) || ((kind === 'junction' || kind === 'quiz') && !station.sorter))
      return [
        {
          level: 'error',
          words: `Step ${i + 1} was deleted: take it out, or put another page there`,
          part: null,
          mend: { does: 'takeOutStation', station: id },
        },
      ]
    const found = [
      ...tracksOf(station).flatMap((each) => findingsOfPage(each, line, i, around)),
      ...(station.sorter ? findingsOfSorter(title, station.sorter, around) : []),
    ]
    if (i > 0 && !isReached(line, i))
      found.push({
        level: 'error',
        words: `Nobody gets to “${title}”: no step before it, and no email, leads there`,
        part: page ? placeOf(page) : null,
        mend: { does: 'takeOutStation', station: id },
      })
    const leadsOn =
      page === null ||
      i === line.length - 1 ||
      leadsFrom(page).length > 0 ||
      page.followups.length > 0 ||
      isSameCourse(page, line[i + 1]?.page)
    if (!leadsOn)
      found.push({
        level: 'advice',
        words: `“${title}” leads nowhere: add a button to the next step`,
        part: placeOf(page),
      })
    return found
  })
  return [...findingsOfWhole(line, around), ...ofStations]
}
