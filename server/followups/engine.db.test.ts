import { beforeEach, describe, expect, it } from 'vitest'
import { programOf, useFollowups } from '../../testing/followups.ts'
import { useInstall } from '../../testing/useInstall.ts'
import type { TagView } from '../../contract/audience/describing.ts'
import type { ActivityDetails, ActivityKind } from '../../core/audience/people/activity.ts'
import { recordActivities } from '../audience/people/activities.ts'
import type { NewActivity } from '../audience/people/newActivity.ts'
import { rescoreEverybody } from '../audience/scores/rescoring.ts'
import { scorePeople } from '../audience/scores/scoring.ts'
import { erasePerson } from '../audience/people/erasing.ts'
import { advanceDue } from './advancing.ts'
import { lookForStarts } from './members.ts'
import { signWebhook } from './outside.ts'
import { startFollowups } from './starting.ts'

const on = useInstall({ worker: false })
const followups = useFollowups(on)
const hour = 3_600_000
const day = 24 * hour

const card = {
  behaviours: [],
  profile: [],
  bands: [
    { id: 'cool', name: 'Cool', from: null },
    { id: 'warm', name: 'Warm', from: 10 },
  ],
}

let n = 0
let person = 0
beforeEach(async () => {
  n += 1
  person = await on.add(`engine${n}@postbox.test`, { consent: 'at the fair' })
})
const email = (): number => on.install.emails.reminder
const did = <K extends ActivityKind>(kind: K, details: ActivityDetails<K>): Promise<void> =>
  recordActivities(on.q, [
    { contact: person, kind, at: on.install.clock.now(), details } as unknown as NewActivity,
  ])
const tag = async (name: string): Promise<number> => {
  await on.mara.post('/tags', { name, note: '' })
  const all = await on.mara.get<TagView[]>('/tags')
  return all.find((each) => each.name === name)!.id
}
const wakesIn = async (id: number): Promise<number> => {
  const row = await on.q.row<{ at: Date }>('select wakes_at at from enrolment where followup_id = $1', [id])
  return row!.at.getTime() - on.install.clock.now()
}

describe('what somebody does', () => {
  it('wakes them in its own transaction, where they wait for it, and nobody else', async () => {
    const wanted = await tag('Ready')
    const waiting = programOf([
      {
        kind: 'waitUntil',
        id: 'ready',
        when: { kind: 'hasTag', tag: wanted },
        atMost: { amount: 3, unit: 'days' },
        happened: { label: 'Ready', steps: [{ kind: 'send', id: 'mail', email: email() }] },
        otherwise: { label: 'Not', steps: [] },
      },
    ])
    const id = await followups.live(waiting)
    await followups.letIn(id, [person])
    expect(await wakesIn(id)).toBe(3 * day)
    await tag('Another')
    await on.mara.post(`/people/${person}/tags`, { add: ['Another'], remove: [] })
    expect(await wakesIn(id)).toBe(3 * day)
    await on.q.rows(
      'insert into contact_tag (contact_id, tag_id, added_at, added_by) values ($1, $2, now(), $3)',
      [person, wanted, 'test'],
    )
    await did('tagAdded', { tag: wanted, by: 'test' })
    expect(await wakesIn(id)).toBe(0)
    await advanceDue(on.install.platform)
    expect(await followups.outcomes(id, person)).toEqual([
      'ready waits',
      'ready took',
      'mail sent',
      'mail left',
    ])
  })

  it('wakes also whom a worker is just moving on to the step that waits for it', async () => {
    const wanted = await tag(`Race ${n}`)
    const id = await followups.live(
      programOf([
        { kind: 'waitFor', id: 'before', amount: 1, unit: 'days' },
        {
          kind: 'waitUntil',
          id: 'ready',
          when: { kind: 'hasTag', tag: wanted },
          atMost: { amount: 3, unit: 'days' },
          happened: { label: 'Ready', steps: [] },
          otherwise: { label: 'Not', steps: [] },
        },
      ]),
    )
    await followups.letIn(id, [person])
    on.install.clock.move(day)
    const at = on.install.clock.now()
    // One transaction has read the person without the tag and moves them on; the other puts the tag on meanwhile.
    let tagged: Promise<void> | undefined
    await on.install.platform.database.inTransaction(async (tx) => {
      await tx.rows(
        `update enrolment set step = 'ready', due_at = $2, wakes_at = $2 where followup_id = $1`,
        [id, new Date(at + 3 * day)],
      )
      tagged = on.install.platform.database.inTransaction((other) =>
        recordActivities(other, [
          { contact: person, kind: 'tagAdded', at, details: { tag: wanted, by: 'test' } },
        ]),
      )
      await new Promise((next) => setTimeout(next, 200))
    })
    await tagged
    expect(await wakesIn(id)).toBe(0)
  })

  it('takes them out wherever they stand, and what waited to be sent is held', async () => {
    const id = await followups.live(
      programOf(
        [
          { kind: 'send', id: 'offer', email: email() },
          { kind: 'waitFor', id: 'days', amount: 3, unit: 'days' },
          { kind: 'send', id: 'last', email: on.install.emails.invitation },
        ],
        { leavesWhen: [{ when: { kind: 'pageVisited', page: on.install.ids.page } }] },
      ),
    )
    await followups.letIn(id, [person])
    on.install.clock.move(hour)
    await did('pageVisited', { page: on.install.ids.page })
    await advanceDue(on.install.platform)
    expect((await followups.decisions(id, person)).at(-1)).toMatchObject({
      step: 'days',
      outcome: 'left',
      reason: expect.stringMatching(/^visited the page “.+” \(/) as string,
    })
    await followups.pass(4 * day, day)
    const sent = await on.q.rows(
      'select message.step from message join enrolment on enrolment.id = enrolment_id where followup_id = $1',
      [id],
    )
    expect(sent).toHaveLength(1)
  })

  it('leads them on to a milestone, and never back', async () => {
    const id = await followups.live(
      programOf(
        [
          { kind: 'waitFor', id: 'week', amount: 1, unit: 'weeks' },
          { kind: 'milestone', id: 'here', name: 'Bought' },
          { kind: 'waitFor', id: 'after', amount: 1, unit: 'days' },
        ],
        { leavesWhen: [{ when: { kind: 'fileDownloaded' }, milestone: 'here' }] },
      ),
    )
    await followups.letIn(id, [person])
    on.install.clock.move(hour)
    await did('fileDownloaded', { file: 1 })
    await advanceDue(on.install.platform)
    expect(await followups.outcomes(id, person)).toEqual(['week waits', 'week jumped', 'after waits'])
    on.install.clock.move(hour)
    await did('fileDownloaded', { file: 1 })
    await advanceDue(on.install.platform)
    expect(await followups.standing(id)).toEqual([{ contact: person, step: 'after' }])
  })

  it('starts what starts by it, for those who are as the follow-up wants them', async () => {
    const wanted = await tag('Customers')
    const id = await followups
      .live(
        programOf([{ kind: 'waitFor', id: 'wait', amount: 1, unit: 'days' }], {
          startsWhen: [{ kind: 'topicLeft', topic: 77 }],
          entryCondition: { kind: 'not', of: { kind: 'hasTag', tag: wanted } },
        }),
      )
      .catch((error: unknown) => (error as Error).message)
    // A topic that does not exist is something that was deleted.
    expect(id).toContain('It starts from something that was deleted')
    const live = await followups.live(
      programOf([{ kind: 'waitFor', id: 'wait', amount: 1, unit: 'days' }], {
        startsWhen: [{ kind: 'fileDownloaded' }],
        entryCondition: { kind: 'hasTag', tag: wanted },
      }),
    )
    const job = {
      contact: person,
      activity: 900 + n,
      kind: 'fileDownloaded',
      details: { file: 1 },
      at: on.install.clock.now(),
    }
    await startFollowups(on.install.platform, job)
    expect(await followups.standing(live)).toEqual([])
    await on.mara.post(`/people/${person}/tags`, { add: ['Customers'], remove: [] })
    await startFollowups(on.install.platform, { ...job, activity: 9_000 + n })
    expect(await followups.standing(live)).toEqual([{ contact: person, step: 'wait' }])
  })
})

describe('steps that change something', () => {
  it('do it to everybody of a batch in a few statements, and say so', async () => {
    const mark = await tag('Marked')
    const others = [await on.add(`batch${n}a@postbox.test`), await on.add(`batch${n}b@postbox.test`)]
    const field = await on.mara.post('/fields', { name: `Paper ${n}`, kind: 'text', options: [] })
    const { id: paper } = (await field.json()) as { id: number }
    const topics = await on.q.rows<{ id: number }>('select id from topic order by id')
    const topic = topics[0]?.id ?? 0
    const other = await followups.live(programOf([{ kind: 'waitFor', id: 'rest', amount: 1, unit: 'days' }]))
    const id = await followups.live(
      programOf([
        { kind: 'addTag', id: 'tag', tag: mark },
        { kind: 'setField', id: 'set', field: paper, value: 'laid' },
        ...(topic ? [{ kind: 'joinTopic' as const, id: 'join', topic }] : []),
        { kind: 'startDeadline', id: 'deadline', offer: 'Early', lasts: { amount: 3, unit: 'days' } },
        { kind: 'startFollowup', id: 'start', followup: other },
        { kind: 'notifyTeam', id: 'tell', words: 'Look who is here' },
        { kind: 'removeTag', id: 'untag', tag: mark },
      ]),
    )
    await followups.letIn(id, [person, ...others])
    const view = await on.view(person)
    expect(view.tags.map(({ name }) => name)).not.toContain('Marked')
    const [stored] = await on.q.rows<{ fields: Record<string, string> }>(
      'select fields from contact where id = $1',
      [person],
    )
    expect(stored?.fields[String(paper)]).toBe('laid')
    expect(await followups.standing(other)).toHaveLength(3)
    const deadlines = await on.q.rows<{ ends: Date }>(
      'select ends_at ends from personal_deadline where contact_id = $1',
      [person],
    )
    expect(deadlines).toHaveLength(1)
    const jobs = await on.q.rows(
      `select from graphile_worker._private_jobs join graphile_worker._private_tasks tasks on tasks.id = task_id
       where identifier = 'tellTeam'`,
    )
    expect(jobs.length).toBeGreaterThanOrEqual(3)
    // The first deadline stays, whoever starts another.
    on.install.clock.move(day)
    const again = await followups.live(
      programOf([
        { kind: 'startDeadline', id: 'deadline', offer: 'Early', lasts: { amount: 9, unit: 'days' } },
      ]),
    )
    await followups.letIn(again, [person])
    const kept = await on.q.rows<{ ends: Date }>(
      'select ends_at ends from personal_deadline where contact_id = $1',
      [person],
    )
    expect(kept).toEqual(deadlines)
    expect((await followups.decisions(again, person))[0]?.reason).toMatch(/, as it was$/)
  })

  it('cut a circle of follow-ups at fifty entries a day, and say so in words', async () => {
    const first = await followups.live(programOf([{ kind: 'end', id: 'end' }], { reentry: 'always' }))
    const second = await followups.live(
      programOf([{ kind: 'startFollowup', id: 'on', followup: first }], { reentry: 'always' }),
    )
    await followups.save(
      first,
      programOf([{ kind: 'startFollowup', id: 'on', followup: second }], { reentry: 'always' }),
    )
    const refused = await followups.goLive(first)
    // The check finds it before anybody falls into it.
    expect(refused.status).toBe(422)
    expect(await refused.text()).toContain('starts itself again through')
    await on.q.rows(`update followup set program = $2 where id = $1`, [
      first,
      JSON.stringify(
        programOf([{ kind: 'startFollowup', id: 'on', followup: second }], { reentry: 'always' }),
      ),
    ])
    await followups.letIn(first, [person])
    for (let i = 0; i < 120; i += 1) await advanceDue(on.install.platform)
    const entries = await on.q.row<{ count: number }>(
      'select count(*)::int count from enrolment where contact_id = $1',
      [person],
    )
    expect(entries?.count).toBe(50)
  })
})

describe('points that a step gives', () => {
  it('count in the score at once and when everybody is scored anew, and are said among its reasons', async () => {
    const made = await on.mara.post('/scorecards', { name: `Interest ${n}`, card })
    const { id: scorecard } = (await made.json()) as { id: number }
    const id = await followups.live(programOf([{ kind: 'givePoints', id: 'give', scorecard, points: 12 }]))
    await followups.letIn(id, [person])
    const scoreOf = async () => (await on.view(person)).scores.find((each) => each.scorecard.id === scorecard)
    await scorePeople(on.install.platform, [person])
    expect(await scoreOf()).toMatchObject({
      score: 12,
      band: 'Warm',
      reasons: expect.arrayContaining([{ what: 'given by follow-ups', times: 1, points: 12 }]) as unknown,
    })
    await rescoreEverybody(on.install.platform, scorecard, { report: () => Promise.resolve() })
    expect((await scoreOf())?.score).toBe(12)
  })
})

describe('people who come in by themselves', () => {
  it('are those who come into a segment after the follow-up went live, once each', async () => {
    const mark = await tag(`In ${n}`)
    const already = person
    await on.mara.post(`/people/${already}/tags`, { add: [`In ${n}`], remove: [] })
    const made = await on.mara.post('/segments', {
      name: `Marked ${n}`,
      tree: { kind: 'all', of: [{ kind: 'hasTag', tag: mark }] },
    })
    const { id: segment } = (await made.json()) as { id: number }
    const id = await followups.live(
      programOf([{ kind: 'waitFor', id: 'wait', amount: 1, unit: 'days' }], {
        startsWhen: [{ kind: 'segmentEntered', segment }],
      }),
    )
    await lookForStarts(on.install.platform)
    expect(await followups.standing(id)).toEqual([])
    const later = await on.add(`later${n}@postbox.test`, { tags: [`In ${n}`] })
    await lookForStarts(on.install.platform)
    await lookForStarts(on.install.platform)
    expect(await followups.standing(id)).toEqual([{ contact: later, step: 'wait' }])
  })

  it('are those whose date comes, every year, on 28 February for who was born on the 29th', async () => {
    const answer = await on.mara.post('/fields', { name: `Birthday ${n}`, kind: 'date', options: [] })
    const { id: field } = (await answer.json()) as { id: number }
    await on.q.rows('update contact set fields = fields || $2 where id = $1', [
      person,
      JSON.stringify({ [field]: '1996-02-29' }),
    ])
    const id = await followups.live(
      programOf([{ kind: 'end', id: 'end' }], {
        startsWhen: [{ kind: 'dateComes', field, days: 0, side: 'before', every: 'year', time: '09:00' }],
        reentry: 'afterLeaving',
      }),
    )
    const at = async (iso: string): Promise<number> => {
      on.install.clock.move(Date.parse(iso) - on.install.clock.now())
      await lookForStarts(on.install.platform)
      await advanceDue(on.install.platform)
      return (await followups.standing(id)).length
    }
    const before = on.install.clock.now()
    // 2027 is a common year, 2028 a leap year.
    expect(await at('2027-02-28T08:30:00Z')).toBe(0)
    expect(await at('2027-02-28T09:10:00Z')).toBe(1)
    expect(await at('2027-02-28T15:10:00Z')).toBe(1)
    expect(await at('2027-03-01T09:10:00Z')).toBe(1)
    expect(await at('2028-02-28T09:10:00Z')).toBe(1)
    expect(await at('2028-02-29T09:10:00Z')).toBe(2)
    on.install.clock.move(before - on.install.clock.now())
  })
})

it('forgets who is erased in the middle, and goes on with the others', async () => {
  const other = await on.add(`stays${n}@postbox.test`)
  const id = await followups.live(programOf([{ kind: 'waitFor', id: 'wait', amount: 1, unit: 'days' }]))
  await followups.letIn(id, [person, other])
  await erasePerson(on.install.platform, person)
  await followups.pass(2 * day, day)
  expect(await followups.standing(id)).toEqual([{ contact: other, step: null }])
})

it('signs what it reports to other servers as the Standard Webhooks specification does', () => {
  // The example of the specification, in check-values.md.
  expect(
    signWebhook(
      'whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw',
      'msg_p5jXN8AQM9LWM0D4loKWxJek',
      1_614_265_330,
      '{"test": 2432232314}',
    ),
  ).toBe('v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=')
})
