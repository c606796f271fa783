import { beforeEach, describe, expect, it } from 'vitest'
import { programOf, useFollowups } from '../../testing/followups.ts'
import { useEmails } from '../../testing/emails.ts'
import { useInstall } from '../../testing/useInstall.ts'
import type { FollowupNumbers, GoingLivePreview, InsideList, JournalList } from '../../contract/followups.ts'
import { followupStarters } from '../../core/followups/starters.ts'
import type { Step } from '../../core/followups/step.ts'
import { ensureActivityMonths } from '../database/migrate.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { advanceDue } from './advancing.ts'

const on = useInstall({ worker: false })
const followups = useFollowups(on)
const emails = useEmails(on)
const hour = 3_600_000
const day = 24 * hour

let n = 0
let people: number[] = []
beforeEach(async () => {
  n += 1
  people = []
  for (const i of [1, 2, 3])
    people.push(await on.add(`live${n}-${i}@postbox.test`, { consent: 'at the fair' }))
})
const send = (id: string, email = on.install.emails.reminder): Step => ({ kind: 'send', id, email })
const wait = (id: string, amount = 2): Step => ({ kind: 'waitFor', id, amount, unit: 'days' })
const sentSteps = async (id: number, contact: number): Promise<string[]> => {
  const rows = await on.q.rows<{ step: string }>(
    `select message.step from message join enrolment on enrolment.id = enrolment_id
     where followup_id = $1 and message.contact_id = $2 order by message.id`,
    [id, contact],
  )
  return rows.map(({ step }) => step)
}

describe('going live', () => {
  it('cannot happen with an email that is a draft: it is published with it, or named', async () => {
    const draft = await emails.create(emails.write())
    const empty = await emails.create(emails.write({ subject: '' }))
    const made = await on.mara.post('/followups', {
      name: `Drafts ${n}`,
      content: programOf([send('a', draft)]),
    })
    const { id } = (await made.json()) as { id: number }
    const { findings } = await followups.view(id)
    expect(findings).toContainEqual({
      level: 'error',
      words: expect.stringContaining('is a draft') as string,
      part: 'a',
      mend: { does: 'publishEmail', email: draft },
    })
    const refused = await followups.goLive(id)
    expect(refused.status).toBe(422)
    expect(await refused.text()).toContain('is a draft')
    expect((await followups.view(id)).state).toBe('draft')
    expect((await followups.goLive(id, { publish: [draft] })).status).toBe(204)
    expect((await followups.view(id)).state).toBe('live')
    expect((await emails.view(draft)).state).toBe('live')

    await followups.save(id, programOf([send('a', draft), send('b', empty)]))
    const named = await followups.goLive(id, { publish: [empty] })
    expect(named.status).toBe(422)
    expect(await named.text()).toContain('is not ready')
    // Nothing of it happened: what runs is what ran before.
    expect((await followups.view(id)).live?.steps.map((step) => step.id)).toEqual(['a'])
  })

  it('says what happens to those inside, keeps their places, and sends nothing twice', async () => {
    const id = await followups.live(
      programOf([send('one'), wait('first'), wait('second'), send('two', on.install.emails.invitation)]),
    )
    await followups.letIn(id, people)
    await followups.save(
      id,
      programOf([
        send('zero', on.install.emails.grain),
        wait('second'),
        send('one'),
        send('two', on.install.emails.invitation),
      ]),
    )
    expect(await on.mara.get<GoingLivePreview>(`/followups/${id}/going-live`)).toEqual([
      { step: '2 days', people: 3, to: '2 days', stays: false },
    ])
    const { changes } = await followups.view(id)
    expect(changes).toContain('taken out: 2 days')
    // By its name, not by its number.
    expect(changes).toContain('added: “Paper grain in ten minutes”')
    expect((await followups.goLive(id)).status).toBe(204)
    expect(await followups.standing(id)).toEqual(people.map((contact) => ({ contact, step: 'second' })))
    await followups.pass(3 * day, day)
    // The email that they had is not sent again, though it now comes after where they stood.
    expect(await sentSteps(id, people[0]!)).toEqual(['one', 'two'])
    expect(await followups.decisions(id, people[0]!)).toContainEqual({
      step: 'one',
      outcome: 'skipped',
      reason: expect.stringContaining('sent to them before') as string,
    })
    expect(
      (await followups.decisions(id, people[0]!)).find(({ outcome }) => outcome === 'moved')?.reason,
    ).toMatch(/was taken out by Mara Ellery: on to 2 days/)
  })

  it('twice at the same moment makes it live once, and the second is told', async () => {
    const made = await on.mara.post('/followups', { name: `Twice ${n}`, content: programOf([wait('a')]) })
    const { id } = (await made.json()) as { id: number }
    const { version, revision } = await followups.view(id)
    const tries = await Promise.all(
      [1, 2].map(() => on.mara.post(`/followups/${id}/go-live`, { version, revision })),
    )
    expect(tries.map(({ status }) => status).every((status) => status === 204)).toBe(true)
    expect((await followups.view(id)).publishedVersion).toBe(1)
    // Two people editing: who saved from an older state is told who has changed it.
    await followups.save(id, programOf([wait('a', 3)]))
    const stale = await on.mara.post(`/followups/${id}/draft`, {
      version,
      revision,
      content: programOf([wait('a', 4)]),
    })
    expect(stale.status).toBe(409)
    expect(await stale.text()).toContain('has changed this follow-up meanwhile')
  })

  it('goes back to an earlier version, which is a draft until it goes live', async () => {
    const id = await followups.live(programOf([wait('a')]))
    await followups.save(id, programOf([wait('a', 5)]))
    await followups.goLive(id)
    await on.mara.post(`/followups/${id}/go-back`, { version: 1 })
    const { content, live, versions } = await followups.view(id)
    expect([content.steps[0], live?.steps[0]]).toEqual([wait('a'), wait('a', 5)])
    expect(versions.map(({ number, published }) => [number, published])).toEqual([
      [3, false],
      [2, true],
      [1, false],
    ])
  })
})

describe('a pause', () => {
  const paused = async (steps: Step[]): Promise<number> => {
    const id = await followups.live(programOf(steps))
    await followups.letIn(id, people)
    on.install.clock.move(day)
    await on.mara.post(`/followups/${id}/state`, { do: 'pause' })
    on.install.clock.move(30 * day)
    await advanceDue(on.install.platform)
    // Nobody is signed in for so long without a word.
    await on.q.rows(`update sign_in set expires_at = '2100-01-01'`)
    await ensureActivityMonths(on.q, on.install.clock.now())
    return id
  }

  it('holds everybody; catching up sends what became due, and the rest as far apart as planned', async () => {
    const id = await paused([
      { kind: 'waitDay', id: 'two', day: 2 },
      send('second'),
      { kind: 'waitDay', id: 'four', day: 4 },
      send('fourth', on.install.emails.invitation),
    ])
    expect(await sentSteps(id, people[0]!)).toEqual([])
    expect((await on.mara.post(`/followups/${id}/state`, { do: 'resume', how: 'catchUp' })).status).toBe(204)
    await advanceDue(on.install.platform)
    expect(await sentSteps(id, people[0]!)).toEqual(['second'])
    await followups.pass(2 * day - hour)
    expect(await sentSteps(id, people[0]!)).toEqual(['second'])
    await followups.pass(2 * hour)
    expect(await sentSteps(id, people[0]!)).toEqual(['second', 'fourth'])
  })

  it('shifts every wait by its length when that is chosen', async () => {
    const id = await paused([{ kind: 'waitDay', id: 'two', day: 2 }, send('second')])
    await on.mara.post(`/followups/${id}/state`, { do: 'resume', how: 'shift' })
    await followups.pass(day - 2 * hour)
    expect(await sentSteps(id, people[0]!)).toEqual([])
    await followups.pass(3 * hour)
    expect(await sentSteps(id, people[0]!)).toEqual(['second'])
  })

  it('looks at once at who did meanwhile what takes them out, and moves nobody else for it', async () => {
    const id = await followups.live(
      programOf([wait('long', 40), send('mail')], { leavesWhen: [{ when: { kind: 'fileDownloaded' } }] }),
    )
    await followups.letIn(id, people)
    on.install.clock.move(day)
    await on.mara.post(`/followups/${id}/state`, { do: 'pause' })
    on.install.clock.move(day)
    await recordActivities(on.q, [
      { contact: people[0]!, kind: 'fileDownloaded', at: on.install.clock.now(), details: { file: 1 } },
    ])
    on.install.clock.move(10 * day)
    await on.q.rows(`update sign_in set expires_at = '2100-01-01'`)
    await ensureActivityMonths(on.q, on.install.clock.now())
    await on.mara.post(`/followups/${id}/state`, { do: 'resume', how: 'shift' })
    await advanceDue(on.install.platform)
    expect((await followups.standing(id)).map(({ step }) => step)).toEqual([null, 'long', 'long'])
    const late = await on.q.rows<{ days: number }>(
      `select shifted / 86400000.0 days from enrolment where followup_id = $1 and ended_at is null`,
      [id],
    )
    expect(late.map(({ days }) => Math.round(days))).toEqual([11, 11])
  })

  it('and other changes of state are refused where they lead nowhere', async () => {
    const id = await paused([wait('a')])
    expect((await on.mara.post(`/followups/${id}/state`, { do: 'pause' })).status).toBe(409)
    expect((await on.mara.post(`/followups/${id}/state`, { do: 'archive' })).status).toBe(204)
    expect((await followups.standing(id)).every(({ step }) => step === null)).toBe(true)
    expect((await followups.decisions(id, people[0]!)).at(-1)?.reason).toBe(
      'the follow-up was archived by Mara Ellery',
    )
    expect((await on.mara.post(`/followups/${id}/delete`)).status).toBe(409)
  })

  it('closing lets nobody in, and those inside finish', async () => {
    const id = await followups.live(programOf([wait('a', 1), send('mail')]))
    await followups.letIn(id, people.slice(0, 1))
    await on.mara.post(`/followups/${id}/state`, { do: 'close' })
    await expect(followups.letIn(id, people.slice(1))).rejects.toThrow('not live')
    await followups.pass(2 * day, day)
    expect(await sentSteps(id, people[0]!)).toEqual(['mail'])
  })
})

describe('people inside', () => {
  it('are moved on, ahead or out by hand, never back, with who did it in the journal', async () => {
    const id = await followups.live(programOf([wait('a'), wait('b'), send('mail'), wait('c')]))
    await followups.letIn(id, people)
    const [one, two, three] = people as [number, number, number]
    const move = (of: number[], to: object) =>
      on.mara.post(`/followups/${id}/people/move`, { who: { people: of }, to })
    await move([one], { where: 'next' })
    await move([two], { where: 'step', step: 'c' })
    await move([three], { where: 'out' })
    await advanceDue(on.install.platform)
    expect((await followups.standing(id)).map(({ step }) => step)).toEqual(['b', 'c', null])
    const back = await move([two], { where: 'step', step: 'a' })
    expect(await back.json()).toEqual({ moved: 0 })
    expect((await move([one], { where: 'step', step: 'nowhere' })).status).toBe(422)
    expect((await followups.decisions(id, one))[1]?.reason).toBe('to 2 days, by Mara Ellery')
    const journal = await on.mara.get<JournalList>(`/followups/${id}/journal`)
    expect(journal.rows.some(({ reason }) => reason === 'taken out by Mara Ellery')).toBe(true)

    const list = await on.mara.get<InsideList>(`/followups/${id}/people?size=1`)
    expect(list.rows).toHaveLength(1)
    const next = await on.mara.get<InsideList>(
      `/followups/${id}/people?size=1&after=${encodeURIComponent(list.next!)}`,
    )
    expect([list.rows[0]!.contact, next.rows[0]!.contact].sort()).toEqual([one, two].sort())
    const nowhere = await on.mara.get<InsideList>(`/followups/${id}/people?size=1&after=no-such_place`)
    expect(nowhere.rows).toEqual(list.rows)
    const numbers = await on.mara.get<FollowupNumbers>(`/followups/${id}/numbers`)
    expect([numbers.inside, numbers.finished]).toEqual([2, 1])
    expect(numbers.steps.find(({ step }) => step === 'b')?.waiting).toBe(1)
  })
})

describe('a starting point', () => {
  it.each(followupStarters.map(({ id }) => id))(
    '“%s” makes its emails and tags, and is taken as it is',
    async (starter) => {
      const made = await on.mara.post('/followups', { name: `From ${starter}`, starter })
      expect(made.status).toBe(201)
      const { id } = (await made.json()) as { id: number }
      const { content, findings } = await followups.view(id)
      expect(content.steps.length).toBeGreaterThan(0)
      // Its emails are drafts with guidance still in them; nothing else is wrong with it.
      const others = findings.filter(
        ({ level, words }) => level === 'error' && !words.startsWith('The email “'),
      )
      expect(others).toEqual([])
    },
  )

  it('that does not exist is refused in words', async () => {
    const made = await on.mara.post('/followups', { name: 'Nothing', starter: 'no-such' })
    expect([made.status, await made.text()]).toEqual([422, expect.stringContaining('no such starting point')])
  })
})

it('refuses a program that was written by hand into nonsense, with its place', async () => {
  const id = await followups.live(programOf([wait('a')]))
  const nonsense = { ...programOf([]), steps: [{ kind: 'waitFor', id: 'a', amount: 0, unit: 'days' }] }
  const { version, revision } = await followups.view(id)
  const refused = await on.mara.post(`/followups/${id}/draft`, { version, revision, content: nonsense })
  expect(refused.status).toBe(422)
  expect(await refused.text()).toContain('A wait is at least 1')
  expect((await followups.view(id)).content.steps).toEqual([wait('a')])
})
