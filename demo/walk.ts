import type { Instant } from '../core/audience/people/activity.ts'
import type { Purpose } from '../core/audience/people/permission.ts'
import { stranger } from '../core/audience/people/person.ts'
import type { Names } from '../core/audience/segments/names.ts'
import { advance, enrol } from '../core/followups/advance.ts'
import { type Effect, type Facts } from '../core/followups/enrolment.ts'
import type { Program } from '../core/followups/program.ts'
import { indexSteps, type Track } from '../core/followups/track.ts'
import { loadAllNames } from '../server/audience/segments/names.ts'
import type { Queries } from '../server/database/connect.ts'
import type { Person, Walk } from './person.ts'

const minute = 60_000
const hour = 60 * minute
const day = 24 * hour

/** A follow-up that people of the story walk through, with its emails by id. */
export interface Path {
  followup: number
  program: Program
  track: Track
  emails: Record<number, { purpose: Purpose; links: number[] }>
  names: Names
  /** The file behind the emails' buttons. */
  file: number
}

export async function pathOf(
  q: Queries,
  followup: { id: number; program: Program },
  emails: readonly { id: number; purpose: Purpose }[],
  file: number,
): Promise<Path> {
  const links = await q.rows<{ id: number; emailId: number }>(
    'select id, email_id "emailId" from email_link order by id',
  )
  return {
    followup: followup.id,
    program: followup.program,
    track: indexSteps(followup.program),
    emails: Object.fromEntries(
      emails.map(({ id, purpose }) => [
        id,
        { purpose, links: links.filter((link) => link.emailId === id).map((link) => link.id) },
      ]),
    ),
    names: await loadAllNames(q),
    file,
  }
}

/** How long after an email somebody clicks: most within a day, with a long tail. */
function clickDelay({ chance }: Person): number {
  return 2 * minute + (chance.flip(0.8) ? chance.delay(6 * hour) : chance.delay(3 * day))
}

/** What somebody does with an email: it may bounce, be clicked, or be the last straw. */
function receive(
  person: Person,
  path: Path,
  walk: number,
  send: Extract<Effect, { kind: 'sendEmail' }>,
  due: Instant,
): void {
  const { chance, now } = person
  const email = path.emails[send.email]
  const at = due + 1000 + chance.below(3000)
  const purpose = email?.purpose ?? 'marketing'
  const message = person.sent.push({ walk, email: send.email, step: send.step, purpose, at })
  const details = { email: send.email, message }
  if (chance.flip(0.008)) {
    person.marketing = 'bounced'
    person.activities.push({
      kind: 'emailFailed',
      at,
      details: { ...details, reason: '5.1.1 No such mailbox' },
    })
    return
  }
  person.activities.push({ kind: 'emailSent', at, details })
  const clickedAt = at + clickDelay(person)
  const link = email?.links[0]
  if (link !== undefined && chance.flip(0.25 + person.keen * 0.5) && clickedAt <= now) {
    person.did({ kind: 'emailClicked', at: clickedAt, details: { ...details, link } })
    if (chance.flip(0.95))
      person.did({ kind: 'fileDownloaded', at: clickedAt + 4000, details: { file: path.file } })
  }
  if (purpose === 'marketing' && chance.flip(0.03) && at + hour <= now) {
    person.marketing = chance.flip(0.06) ? 'complained' : 'unsubscribed'
    person.did({ kind: 'unsubscribed', at: at + hour, details: { by: 'person', message } })
  }
}

/** Takes a person through a follow-up by the real engine, from a moment until now. */
export function walk(person: Person, path: Path, start: Instant): void {
  const place = person.walks.length
  const way: Walk = {
    followup: path.followup,
    enrolment: enrol(path.program, start),
    endedAt: null,
    decisions: [],
  }
  person.walks.push(way)
  let moment: Instant | null = start
  while (moment !== null && moment <= person.now) {
    const facts: Facts = {
      person: {
        ...stranger,
        marketing: person.marketing,
        tags: new Set(person.tags.map(({ tag }) => tag)),
        activities: person.activities,
      },
      emails: path.emails,
      fields: [],
      sessions: {},
      seed: `${path.followup} ${person.address}`,
      context: { names: path.names, segments: {}, scorecards: {} },
    }
    const step = advance(path.program, path.track, way.enrolment, facts, moment)
    way.enrolment = step.enrolment
    way.decisions.push(...step.decisions)
    for (const effect of step.effects)
      if (effect.kind === 'addTag') person.addTag(effect.tag, moment, 'follow-up')
      else if (effect.kind === 'sendEmail') receive(person, path, place, effect, moment)
    if (way.enrolment.step === null) way.endedAt = moment
    moment = way.enrolment.dueAt
  }
  person.activities.sort((a, b) => a.at - b.at)
}

/** Opens of what a person was sent: who clicks has opened; many open without clicking; what bounced nobody opens. */
export function openEmails(person: Person): void {
  const about = (kind: 'emailClicked' | 'emailFailed', message: number) =>
    person.all(kind).find(({ details }) => 'message' in details && details.message === message)
  person.sent.forEach(({ email, at }, i) => {
    const click = about('emailClicked', i + 1)
    const opened = click ? click.at - 30_000 : at + person.chance.delay(9 * hour)
    if ((click || person.chance.flip(0.25 + person.keen * 0.4)) && !about('emailFailed', i + 1))
      person.did({ kind: 'emailOpened', at: opened, details: { email, message: i + 1 } })
  })
}
