import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { z } from 'zod'
import type { PersonView } from '../../../contract/audience/people.ts'
import type {
  BandMoves,
  ScoreCheckView,
  ScorecardView,
  historyView,
} from '../../../contract/audience/scores.ts'
import { createScoreAdder, scoreAt } from '../../../core/audience/scores/score.ts'
import { halfLivesOf, type Scorecard } from '../../../core/audience/scores/scorecard.ts'
import { openInstall, type TestInstall } from '../../../testing/install.ts'
import { signedIn, type Marketer } from '../../../testing/marketer.ts'
import { made, workEnded } from '../../../testing/people.ts'
import { lookAt } from '../../../testing/publishing.ts'
import { buttonOf, mailFor, postForm } from '../../../testing/visitor.ts'
import { eventually } from '../../../testing/waiting.ts'
import { recordActivities } from '../people/activities.ts'

const day = 86_400_000
const rule = { details: {}, capPerDay: null, capInAll: null }
const bands = [
  { id: 'cool', name: 'Cool', from: null },
  { id: 'warm', name: 'Warm', from: 10 },
]
const card: Scorecard = {
  behaviours: [{ ...rule, id: 'click', activity: 'emailClicked', points: 20, halfLife: 10 }],
  profile: [
    { id: 'irish', when: { kind: 'field', field: 'country', test: { test: 'is', value: 'IE' } }, points: 3 },
  ],
  bands,
}

let install: TestInstall
let mara: Marketer
let scorecard: number
beforeAll(async () => {
  install = await openInstall()
  await install.startWorker()
  mara = await signedIn(install.url)
  const saved = await made<{ id: number; work: number }>(mara.post('/scorecards', { name: 'Interest', card }))
  scorecard = saved.id
  await workEnded(mara, saved.work)
})
afterAll(() => install.close())

const view = (id: number) => mara.get<PersonView>(`/people/${id}`)
const scoreOf = async (id: number) => (await view(id)).scores[0]!
const idOf = async (address: string) =>
  (await install.platform.database.row<{ id: number }>('select id from contact where address_key = $1', [
    address,
  ]))!.id

describe('a score', () => {
  it('rises with what a person does, crosses a band, and says of what it is made', async () => {
    await postForm(install.url, { address: 'warm@postbox.test' })
    const [mail] = await mailFor(install, 'warm@postbox.test')
    await lookAt(buttonOf(mail!))
    const id = await idOf('warm@postbox.test')
    const score = await eventually(async () => {
      const found = await scoreOf(id)
      return found.score > 0 && found
    })
    expect(score).toMatchObject({ score: 20, band: 'Warm' })
    expect(score.reasons).toEqual([{ what: 'clicked in any email', times: 1, points: 20 }])
    expect(Date.parse(score.crossing?.at ?? '') - install.clock.now()).toBeCloseTo(10 * day, -4)
    const { journal } = await view(id)
    expect(journal.map(({ title }) => title)).toContain('reached the band “Warm” of “Interest”')
  })

  it('counts who somebody is, and no longer when they are it no longer', async () => {
    const { id } = await made<{ id: number }>(
      mara.post('/people', { address: 'irish@postbox.test', country: 'IE' }),
    )
    await eventually(async () => (await scoreOf(id)).score === 3)
    await mara.post(`/people/${id}`, { address: 'irish@postbox.test', country: 'FR' })
    await eventually(async () => (await scoreOf(id)).score === 0)
  })

  it('falls out of a band by time alone, noticed at the moment when it happens', async () => {
    const id = await idOf('warm@postbox.test')
    const { crossing } = await scoreOf(id)
    const at = Date.parse(crossing!.at)
    install.clock.move(at - install.clock.now() - 1000)
    await new Promise((done) => setTimeout(done, 1_500))
    expect((await view(id)).journal.map(({ title }) => title)).not.toContain(
      'dropped out of the band “Warm” of “Interest”',
    )
    // An hour late, as when no worker ran: the journal has the moment at which it happened.
    install.clock.move(3_600_000)
    const line = await eventually(async () =>
      (await view(id)).journal.find(({ title }) => title === 'dropped out of the band “Warm” of “Interest”'),
    )
    expect(Date.parse(line.at)).toBe(at)
    expect((await scoreOf(id)).band).toBe('Cool')
  })
})

describe('a change of the rules', () => {
  const louder: Scorecard = { ...card, behaviours: [{ ...card.behaviours[0]!, points: 40 }] }

  it('is previewed, worked out for everybody, and agrees with adding up person by person', async () => {
    const moves = await made<BandMoves>(mara.post(`/scorecards/${scorecard}/moves`, { card: louder }))
    expect(moves).toMatchObject({
      moved: 1,
      sampled: false,
      moves: [{ from: 'Cool', to: 'Warm', people: 1 }],
    })

    const { work } = await made<{ work: number }>(
      mara.post(`/scorecards/${scorecard}`, { name: 'Interest', card: louder }),
    )
    expect((await workEnded(mara, work)).said).toContain('1 people have points')
    const id = await idOf('warm@postbox.test')
    const clicks = await install.platform.database.rows<{ at: Date }>(
      `select at from activity where contact_id = $1 and kind = 'emailClicked' order by at`,
      [id],
    )
    const expected = scoreAt(
      createScoreAdder(louder, () => 0)(clicks.map(({ at }) => ({ rule: 0, at: at.getTime() }))),
      halfLivesOf(louder),
      install.clock.now(),
    )
    expect((await scoreOf(id)).score).toBeCloseTo(expected, 9)
    const [row] = await mara.get<ScorecardView[]>('/scorecards')
    const people = await install.platform.database.row<{ n: number }>('select count(*) n from contact')
    expect(row?.people).toEqual({ warm: 1, cool: people!.n - 1 })
  })

  it('is refused when it makes no sense, at the place', async () => {
    const answer = await mara.post(`/scorecards/${scorecard}`, {
      name: 'Interest',
      card: { ...card, bands: [bands[1]] },
    })
    expect(answer.status).toBe(422)
    expect(await answer.json()).toMatchObject({
      fields: { 'card.bands': expect.stringContaining('lowest band') as string },
    })
  })
})

describe('whether a score means anything', () => {
  it('is told from what people did after the day that it is looked at as of', async () => {
    const now = install.clock.now()
    const q = install.platform.database
    const product = (await q.row<{ id: number }>(
      `insert into product (name, created_at) values ('Field guide', now()) returning id`,
    ))!.id
    await q.rows('delete from contact')
    await q.rows('delete from activity')
    // Of 40 people, 20 had clicked 40 days ago; 12 of those and 2 of the others have bought since.
    const people = await q.rows<{ id: number }>(
      `insert into contact (address, address_key, created_at, updated_at)
       select i || '@check.test', i || '@check.test', $1, $1 from generate_series(1, 40) i returning id`,
      [new Date(now - 60 * day)],
    )
    await recordActivities(
      q,
      people.slice(0, 20).map(({ id }) => ({
        contact: id,
        kind: 'emailClicked',
        at: now - 40 * day,
        details: { email: 1, message: 1, link: 1 },
      })),
    )
    const buyers = [...people.slice(0, 12), ...people.slice(20, 22)]
    await recordActivities(
      q,
      buyers.map(({ id }) => ({
        contact: id,
        kind: 'productBought',
        at: now - 5 * day,
        details: { product, amount: 700, currency: 'EUR' },
      })),
    )
    // One bought before: nothing can be told from them.
    await recordActivities(q, [
      {
        contact: people[39]!.id,
        kind: 'productBought',
        at: now - 50 * day,
        details: { product, amount: 700, currency: 'EUR' },
      },
    ])
    // Buyers get their tag by buying: a rule for it would know the answer, and so must not be looked at.
    const buyer = (await q.row<{ id: number }>(
      `insert into tag (name, created_at) values ('Buyer', now()) returning id`,
    ))!.id
    await q.rows(`insert into contact_tag select unnest($1::bigint[]), $2, now(), 'order'`, [
      buyers.map(({ id }) => id),
      buyer,
    ])
    const knowing: Scorecard = {
      ...card,
      profile: [{ id: 'buyer', when: { kind: 'hasTag', tag: buyer }, points: 50 }],
    }
    const question = { card: knowing, outcome: { activity: 'productBought', details: { product } }, days: 30 }
    const check = await made<ScoreCheckView>(mara.post('/scorecards/check', question))
    expect(check.people).toBe(39)
    expect(check.bands.map(({ name, share }) => [name, share.of, share.among])).toEqual([
      ['Cool', 2, 19],
      ['Warm', 12, 20],
    ])
    // Pairs by hand: 12×17 in order, 12×8 + 2×17 tied, 2×8 the wrong way round, of 14×25.
    expect(check.area).toBeCloseTo((12 * 17 + (12 * 8 + 2 * 17) / 2) / (14 * 25), 12)

    const history = await made<z.infer<typeof historyView>>(mara.post('/scorecards/history', question))
    const clicked = history.behaviours.findIndex(({ activity }) => activity === 'emailClicked')
    // Ten days before the day that is looked at as of, with a half-life of ten days.
    expect(history.counts.filter((row) => Math.abs((row[clicked] ?? 0) - 0.5) < 1e-9)).toHaveLength(20)
    expect(history.outcomes.filter(Boolean)).toHaveLength(14)
    expect(history.behaviours).not.toContainEqual(question.outcome)
  })
})
