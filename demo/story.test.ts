import { parse } from 'csv-parse/sync'
import { describe, expect, it } from 'vitest'
import { noNames } from '../core/audience/segments/names.ts'
import { stranger } from '../core/audience/people/person.ts'
import { advance, enrol } from '../core/followups/advance.ts'
import { type Facts } from '../core/followups/enrolment.ts'
import { program } from '../core/followups/program.ts'
import { indexSteps } from '../core/followups/track.ts'
import { emailContent } from '../core/email/email.ts'
import { chanceFrom } from '../core/chance.ts'
import { bindingQuiz } from './chapters/quizContent.ts'
import { Person } from './person.ts'
import { live, type Story } from './story.ts'
import { domains, firstNames, lastNames, places } from './cast.ts'
import { crowdFields, crowdFile } from './crowd.ts'
import { templatePackProgram } from './chapters/templatePackContent.ts'
import { templatePackEmails } from './chapters/templatePackEmails.ts'
import { arrivalTimes, livelyArrivals } from './arrivals.ts'
import { paperGrainProgram } from './chapters/paperGrain.ts'

const now = Date.parse('2026-11-24T10:00:00Z')
const text = (pieces: Iterable<string>): string => [...pieces].join('')

describe('the cast', () => {
  it('lives at addresses that can belong to nobody (RFC 2606: .test and .example are reserved)', () => {
    for (const [domain] of domains) expect(domain).toMatch(/\.(test|example)$/)
  })

  it('has no name twice, and zones that exist', () => {
    for (const names of [firstNames, lastNames]) expect(new Set(names).size).toBe(names.length)
    for (const [{ zone, country }] of places) {
      expect(() => new Intl.DateTimeFormat('en', { timeZone: zone })).not.toThrow()
      expect(country).toMatch(/^[A-Z]{2}$/)
    }
  })
})

describe('arrivals', () => {
  const times = arrivalTimes(chanceFrom(20261124), 2400, now, 'Europe/Dublin')

  it('fill 14 months up to now, in order, and are the same every time', () => {
    expect(times).toHaveLength(2400)
    expect(times).toEqual([...times].sort((a, b) => a - b))
    expect(Math.max(...times)).toBeLessThanOrEqual(now)
    expect(now - Math.min(...times)).toBeLessThanOrEqual(425 * 86_400_000)
    expect(arrivalTimes(chanceFrom(20261124), 2400, now, 'Europe/Dublin')).toEqual(times)
  })

  it('grow from month to month, and are fewest at night', () => {
    const half = now - 212 * 86_400_000
    const early = times.filter((at) => at < half).length
    expect(times.length - early).toBeGreaterThan(2 * early)
    const hourOf = (at: number) =>
      Number(
        new Intl.DateTimeFormat('en-GB', { hour: '2-digit', timeZone: 'Europe/Dublin' })
          .format(at)
          .slice(0, 2),
      )
    const night = times.filter((at) => hourOf(at) < 7).length
    const evening = times.filter((at) => hourOf(at) >= 17).length
    expect(evening).toBeGreaterThan(5 * night)
  })
})

describe('a crowd as a file', () => {
  it('is CSV that an independent reader takes, as many as wanted, each address once', () => {
    const rows = parse<Record<string, string>>(text(crowdFile(500)), {
      columns: true,
      record_delimiter: '\r\n',
    })
    expect(rows).toHaveLength(500)
    expect(new Set(rows.map(({ Email }) => Email?.toLowerCase())).size).toBe(500)
    for (const [name] of crowdFields) expect(rows[0]).toHaveProperty([name])
  })

  it('shares people with another one where their numbers meet, and repeats itself', () => {
    const first = text(crowdFile(10)).split('\r\n').slice(1, 11)
    expect(text(crowdFile(10)).split('\r\n').slice(1, 11)).toEqual(first)
    const second = text(crowdFile(10, 5)).split('\r\n').slice(1, 11)
    expect(second[0]?.split('@')[0]).toMatch(/\.5$/)
  })
})

it('tells its story with letters that the product takes', () => {
  const letters = Object.values(templatePackEmails(1))
  expect(letters.length).toBeGreaterThan(2)
  for (const each of letters) expect(emailContent.safeParse(each.content).error, each.name).toBeUndefined()
})

it('tells its story with follow-ups that the product takes', () => {
  const paperGrain = paperGrainProgram(1, 2)
  expect(program.safeParse(paperGrain).error).toBeUndefined()
})

describe('a lively demo', () => {
  const facts: Facts = {
    person: { ...stranger, marketing: 'subscribed' },
    emails: { 1: { purpose: 'transactional' } },
    fields: [],
    sessions: {},
    seed: '',
    context: { names: noNames(), segments: {}, scorecards: {} },
  }
  const hours = Array.from({ length: 24 }, (_, hour) => now + hour * 3_600_000)

  it.each(hours)('at %d has arrivals within the last hour and a departure within five minutes', (then) => {
    const ids = { delivery: 1, reminder: 2, invitation: 3, grain: 4 }
    const pack = templatePackProgram({ form: 1, tags: { invited: 2 }, emails: ids })
    const wait = pack.steps.find((each) => each.kind === 'waitFor')
    expect(wait).toMatchObject({ amount: 2, unit: 'days' })
    const arrivals = livelyArrivals(then, 2 * 86_400_000)
    expect(arrivals.filter((at) => at <= then && then - at <= 3_600_000).length).toBeGreaterThanOrEqual(3)
    // When the engine itself says that the wait of each ends.
    const dues = arrivals.map((at) => {
      const { enrolment } = advance(pack, indexSteps(pack), enrol(pack, at), facts, at)
      return enrolment.dueAt ?? 0
    })
    const next = Math.min(...dues.filter((due) => due > then))
    expect(next - then).toBeLessThanOrEqual(5 * 60_000)
  })
})

describe('the people', () => {
  const ids = { delivery: 1, reminder: 2, invitation: 3, grain: 4 }
  const pack = templatePackProgram({ form: 1, tags: { invited: 2 }, emails: ids })
  const story: Story = {
    templatePack: {
      page: { id: 1, name: 'Template pack' },
      form: 1,
      tag: 1,
      invited: 2,
      emails: ids,
      path: {
        followup: 1,
        program: pack,
        track: indexSteps(pack),
        emails: Object.fromEntries(
          [1, 2, 3, 4].map((id) => [id, { purpose: id === 1 ? 'transactional' : 'marketing', links: [id] }]),
        ),
        names: noNames(),
        file: 1,
      },
    },
    paperGrain: { page: 2 },
    quiz: {
      id: 1,
      tags: { longstitch: 3, copticbook: 4, casebound: 5 },
      field: 1,
      content: bindingQuiz(null, {}),
    },
    sessions: { stitchAlong: 1 },
    shop: {
      guide: 1,
      course: 2,
      products: { guide: 1, course: 2, cards: 3, workshop: 4, templates: 5, circle: 6, set: 7 },
      introductoryUntil: 0,
      buyer: 6,
      journalBuyer: 7,
      circleMember: 8,
    },
    orderPages: { guide: 992, course: 993, circle: 995, thanks: 996 },
    firstJournal: { course: 2, lessons: [997] },
    letter: { topics: { letter: 1, sessions: 2 } },
    newsletter: { page: 3, form: 2 },
    site: { journal: 990, atelier: 991, terms: 994 },
    craft: { sewn: 2, firstBook: 3 },
  }
  const chance = chanceFrom(20261124)
  const people = arrivalTimes(chance, 600, now, 'Europe/Dublin').map((arrival, i) => {
    const person = new Person(chance, arrival, i + 1, now)
    live(person, story)
    return person
  })
  const messagesOf = (person: Person, kind: 'emailOpened' | 'emailFailed') =>
    person.all(kind).flatMap(({ details }) => ('message' in details ? [Number(details.message)] : []))

  it('open no email that never arrived, though some never do', () => {
    const opened = people.flatMap((person) => messagesOf(person, 'emailOpened'))
    const failed = people.filter((person) => messagesOf(person, 'emailFailed').length > 0)
    expect(opened.length).toBeGreaterThan(300)
    expect(failed.length).toBeGreaterThan(3)
    for (const person of failed) {
      const lost = messagesOf(person, 'emailFailed')
      expect(messagesOf(person, 'emailOpened').filter((message) => lost.includes(message))).toEqual([])
    }
  })

  it('have done nothing that is still to come, and everything in order', () => {
    for (const { activities } of people) {
      expect(activities.every(({ at }) => at <= now)).toBe(true)
      expect(activities.map(({ at }) => at)).toEqual(activities.map(({ at }) => at).sort((a, b) => a - b))
    }
  })

  it('are in the middle of follow-ups, through them, and at every address once', () => {
    const walks = people.flatMap((person) => person.walks)
    expect(walks.some(({ endedAt }) => endedAt === null)).toBe(true)
    expect(walks.some(({ endedAt }) => endedAt !== null)).toBe(true)
    expect(new Set(people.map(({ address }) => address)).size).toBe(people.length)
  })
})
