import { describe, expect, it } from 'vitest'
import { stranger } from '../audience/people/person.ts'
import { noNames } from '../audience/segments/names.ts'
import { crowdingIn, emailsOf } from './crowding.ts'
import { forecast } from './forecast.ts'
import type { Facts } from './enrolment.ts'
import type { Program } from './program.ts'
import { personas } from './personas.ts'
import { isDecision, rehearse } from './rehearsal.ts'
import type { Step } from './step.ts'

const start = Date.parse('2026-03-03T09:00:00Z')
const day = 86_400_000
const facts: Facts = {
  person: { ...stranger, marketing: 'subscribed' },
  emails: { 1: { purpose: 'transactional' }, 2: { purpose: 'marketing' }, 3: { purpose: 'marketing' } },
  fields: [],
  sessions: {},
  seed: '1 ada',
  context: {
    names: {
      ...noNames(),
      emails: { 1: 'File', 2: 'Offer', 3: 'Reminder' },
      tags: { 1: 'Ready' },
      followups: { 2: 'Other' },
    },
    segments: {},
    scorecards: {},
  },
}
const send = (id: string, email: number): Step => ({ kind: 'send', id, email })
const days = (id: string, amount: number): Step => ({ kind: 'waitFor', id, amount, unit: 'days' })
const clicked = { kind: 'did', activity: 'emailClicked', details: { email: 1 }, atLeast: 1 } as const
const programOf = (steps: Step[], rest: Partial<Program> = {}): Program => ({
  startsWhen: [],
  reentry: 'never',
  leavesWhen: [],
  zone: 'Europe/Dublin',
  ...rest,
  steps,
})
const deliver = programOf(
  [
    send('file', 1),
    {
      kind: 'waitUntil',
      id: 'fetched',
      when: clicked,
      atMost: { amount: 2, unit: 'days' },
      happened: { label: 'Fetched', steps: [send('offer', 2)] },
      otherwise: { label: 'Not yet', steps: [send('again', 3)] },
    },
    days('rest', 1),
    send('offer-again', 2),
  ],
  { leavesWhen: [{ when: { kind: 'productBought' } }] },
)
const behaviourOf = (id: string) => personas.find((each) => each.id === id)!.behaviour
const run = (id: string, program = deliver, others: Program[] = []) =>
  rehearse({
    followups: [program, ...others].map((each, i) => ({ id: i + 1, program: each })),
    first: 1,
    facts,
    behaviour: behaviourOf(id),
    start,
    until: start + 365 * day,
  })
const mail = (id: string) =>
  emailsOf(run(id)).map(({ email, at }) => `${email} ${(at - start) / 3_600_000} h`)

describe('the rehearsal people of the story', () => {
  it('see the lane that fits what they do, at the moment when they do it', () => {
    // Ada opens after two hours and clicks five minutes later; Bram opens, Chiyo does not.
    expect(mail('ada')).toEqual(['1 0 h', `2 ${2 + 5 / 60} h`, `2 ${26 + 5 / 60} h`])
    expect(mail('bram')).toEqual(['1 0 h', '3 48 h', '2 72 h'])
    expect(mail('chiyo')).toEqual(mail('bram'))
  })

  it('stop at purchase: who buys on the third email gets no fourth', () => {
    const four = programOf(
      [send('a', 1), days('w1', 1), send('b', 2), days('w2', 1), send('c', 3), days('w3', 1), send('d', 2)],
      {
        leavesWhen: [{ when: { kind: 'productBought' } }],
      },
    )
    const lines = run('dov', four)
    expect(emailsOf(lines).map(({ email }) => email)).toEqual([1, 2, 3])
    expect(lines.filter(isDecision).at(-1)).toMatchObject({
      outcome: 'left',
      reason: expect.stringContaining('bought anything') as string,
    })
  })

  it('go on in other follow-ups that theirs starts, by a step or by a tag', () => {
    const first = programOf([
      { kind: 'addTag', id: 'tag', tag: 1 },
      { kind: 'startFollowup', id: 'go', followup: 2 },
    ])
    const byStep = programOf([send('x', 2)])
    const byTag = programOf([days('w', 1), send('y', 3)], { startsWhen: [{ kind: 'tagAdded', tag: 1 }] })
    expect(
      emailsOf(run('ada', first, [byStep, byTag])).map(({ followup, email }) => [followup, email]),
    ).toEqual([
      [2, 2],
      [3, 3],
    ])
  })
})

describe('all emails together', () => {
  it('are looked at for days with too many, two within an hour, offers after the purchase, and silence', () => {
    const busy = programOf([
      send('a', 1),
      { kind: 'waitFor', id: 'w', amount: 30, unit: 'minutes' },
      send('b', 2),
      days('long', 40),
      send('c', 2),
    ])
    const lines = run('femi', busy)
    const words = crowdingIn(lines, {
      zone: 'Europe/Dublin',
      names: facts.context.names,
      sells: (email) => email === 2,
    }).map((each) => each.words)
    expect(words).toEqual([
      '2 emails on 2026-03-03: “File”, “Offer”',
      '“File” and “Offer” come within an hour',
      '40 days without an email before “Offer”',
      '“Offer” sells after the purchase',
    ])
  })
})

describe('a forecast', () => {
  const request = {
    followups: [{ id: 1, program: deliver }],
    first: 1,
    facts,
    rates: { opens: 40, clicks: 25, buys: 0 },
    people: 600,
    days: 10,
    start,
    seed: 7,
  }

  it('is the same for the same seed, and lies where probability says', () => {
    const found = forecast(request, () => true)!
    expect(forecast(request, () => true)).toEqual(found)
    // Each gets three emails; of 1,800, each opened with 0.4: the binomial's mean, and five standard deviations around it.
    expect(found.emails).toEqual({ expected: 1_800, low: 1_800, high: 1_800 })
    const [mean, deviation] = [1_800 * 0.4, Math.sqrt(1_800 * 0.4 * 0.6)]
    expect(Math.abs(found.opened.expected - mean)).toBeLessThan(5 * deviation)
    expect(found.opened.low).toBeLessThan(found.opened.expected)
    expect(found.days.reduce((sum, { emails }) => sum + emails, 0)).toBe(1_800)
    expect(found.finished.expected).toBe(600)
  })

  it('ends when it is told to', () => {
    let asked = 0
    expect(forecast(request, (done) => ((asked = done), done < 300))).toBeNull()
    expect(asked).toBe(300)
  })
})
