import { firstFaultyStep, readAnswers, type Answers } from '../../core/capture/answers.ts'
import { isThrowaway, meantAddress } from '../../core/capture/addressDoubts.ts'
import { parseAddress } from '../../core/audience/people/address.ts'
import { fieldsOf } from '../../core/capture/form.ts'
import { knownAnswer } from '../../core/capture/formHtml.ts'
import { countryOfLanguages } from '../../core/capture/mustConfirm.ts'
import type { FormState, KnownReader } from '../../core/capture/shownForm.ts'
import { againToken } from '../../server/capture/confirmations.ts'
import type { FormDesk } from '../../server/capture/formDesk.ts'
import type { FormTokens } from '../../server/capture/formTokens.ts'
import type { Place } from '../../server/capture/fulfilment.ts'
import type { PublishedForm } from '../../server/capture/publishedForms.ts'
import type { PassToken } from '../../server/junctions/passTokens.ts'
import type { Platform } from '../../server/platform.ts'
import { typedIn, type Posted } from './submission.ts'

const words = {
  late: 'This page was open for a long time. Please press the button again.',
  used: 'This form has already been sent. To send it again as it is now, please press the button again.',
  robot: 'A hidden field was filled in, as robots do. If you are a person, please press the button again.',
  quick: 'That was quicker than people write. If you are a person, please press the button again.',
  faulty: 'Almost there: please check the marked fields.',
} as const

/** Where a form is taken in, and what it stands on. */
export interface Reception {
  platform: Platform
  desk: FormDesk
  tokens: FormTokens
}

/** How a form came. */
export interface Arrived {
  form: PublishedForm
  posted: Posted
  place: Place
  /** What its token was made for. */
  scope: string
  ip: string | null
  acceptLanguage: string
  /** Who reads, when they were recognised. */
  known: KnownReader | null
  /** They were recognised by a link of their own mail: then they may speak for their own address, and no other. */
  proven: boolean
  /** The take of a quiz by which the address is asked for. */
  take?: number
}

/** What comes of a form: it is shown again, or was taken in. */
export type Received =
  | { status: number; state: FormState }
  | {
      /** What stands in its place now, unless it leads on. */
      state: FormState
      /** Whom it put on the list, if they were not there. */
      added: number | null
      waits: boolean
      /** Who it was about, and whether they have shown that. */
      sender: PassToken | null
    }

/** What was typed; a known reader who only pressed the button means what is known of them. */
function typedOrKnown({ form, posted, known }: Arrived): Record<string, string> {
  const typed = typedIn(form.content, posted)
  if (!known || !posted.asKnown || form.content.known !== 'skip') return typed
  const filled = fieldsOf(form.content).flatMap((field) => {
    const value = knownAnswer(field, known, form)
    return value === '' ? [] : [[field.id, value] as const]
  })
  return { ...Object.fromEntries(filled), ...typed }
}

/** Why an address is asked about once more, if it is. */
function doubtOf({ form, posted }: Arrived, address: string): FormState['doubt'] {
  if (posted.sure === address) return undefined
  const { slips, domains, throwaway } = form.content
  const meant = slips ? meantAddress(address, domains) : null
  if (meant !== null) return { typed: address, meant }
  return throwaway === 'warn' && isThrowaway(address) ? { typed: address, meant: null } : undefined
}

interface Reading {
  typed: Record<string, string>
  answers: Answers
  faults: Record<string, string>
}

function read(arrived: Arrived): Reading {
  const { form, acceptLanguage } = arrived
  const typed = typedOrKnown(arrived)
  const { answers, faults } = readAnswers(
    form.content,
    typed,
    form.fields,
    countryOfLanguages(acceptLanguage),
  )
  const asked = fieldsOf(form.content).find(({ asks }) => asks === 'address')
  if (asked && answers.address && form.content.throwaway === 'refuse' && isThrowaway(answers.address.shown))
    faults[asked.id] = 'Please use a mailbox that you keep: what we send would be lost in this one'
  return { typed, answers, faults }
}

/**
 * Takes in a form that a visitor sent: step by step, with all that may be wrong. Every step is looked at again at the
 * end, in whatever order they came.
 */
export async function receiveForm(
  { platform, desk, tokens }: Reception,
  arrived: Arrived,
): Promise<Received> {
  const { form, posted, place, scope, ip, acceptLanguage, known } = arrived
  const { content } = form
  const last = content.steps.length - 1
  const step = Math.min(posted.step, last)
  const { typed, answers, faults } = read(arrived)
  const values = { ...typed, ...posted.source }
  const again = (status: number, more: Partial<FormState>): Received => ({
    status,
    state: { block: posted.block, values, faults: {}, step, ...more },
  })

  if (posted.back) return again(200, { step: Math.max(0, step - 1) })
  const faulty = firstFaultyStep(content, faults)
  if (faulty <= step) {
    const ids = new Set(content.steps[faulty]?.fields.map(({ id }) => id))
    const here = Object.fromEntries(Object.entries(faults).filter(([id]) => ids.has(id)))
    return again(422, { step: faulty, faults: here, notice: words.faulty })
  }
  const asksAddress = content.steps[step]?.fields.some(({ asks }) => asks === 'address')
  const doubt = answers.address && asksAddress ? doubtOf(arrived, answers.address.shown) : undefined
  if (doubt) return again(422, { doubt })
  if (step < last) return again(200, { step: step + 1 })
  if (posted.robot) return again(422, { notice: words.robot })
  const age = tokens.ageOf(scope, posted.token)
  if (age === null) return again(409, { notice: words.late })
  if (age < platform.settings.leastFormTime && !posted.asKnown) return again(409, { notice: words.quick })
  if (!answers.address) return again(422, { notice: words.faulty })

  const own = parseAddress(known?.builtIn.address ?? '')
  const proven = arrived.proven && own?.key === answers.address.key
  const taken = await desk.send({
    form,
    place,
    answers: { ...answers, address: answers.address },
    source: posted.source,
    ip,
    token: posted.token,
    country: countryOfLanguages(acceptLanguage),
    proven,
    ...(arrived.take !== undefined && { take: arrived.take }),
  })
  if (taken === 'used') return again(409, { notice: words.used })
  const { waits, added, contact } = taken
  const sender = contact === null ? null : { contact, proven: proven || added !== null, once: posted.token }
  const done = waits
    ? ({ is: 'waiting', again: `/confirm-again/${againToken(platform, posted.token)}` } as const)
    : ({ is: 'sent' } as const)
  return { state: { block: posted.block, values: {}, faults: {}, done }, added, waits, sender }
}
