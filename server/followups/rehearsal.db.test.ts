import { describe, expect, it } from 'vitest'
import type { JumpResult, RehearsalStage } from '../../contract/followups.ts'
import { programOf, useFollowups } from '../../testing/followups.ts'
import { made, workEnded } from '../../testing/people.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { mailFor, postForm } from '../../testing/visitor.ts'

const day = 86_400_000
const on = useInstall()
const followups = useFollowups(on)

/** Somebody made up who has signed up on the page of the story. */
async function rehearsing(address: string): Promise<number> {
  await postForm(on.install.url, { address, firstName: 'Ada' })
  await mailFor(on.install, address)
  const id = (await on.find({ search: address })).rows[0]?.id ?? 0
  await on.mara.post(`/people/${id}/rehearsal`, { on: true })
  return id
}
const jump = (id: number, until?: number): Promise<Response> =>
  on.mara.post(`/people/${id}/jump`, until === undefined ? {} : { until: new Date(until).toISOString() })
const jumped = (id: number, until?: number): Promise<JumpResult> => made(jump(id, until))
const stage = (id: number): Promise<RehearsalStage> => on.mara.get(`/people/${id}/stage`)

/** As the stage does it: from one moment to the next until the day has come. */
async function goTo(id: number, until: number): Promise<string[]> {
  const moments: string[] = []
  for (;;) {
    const { now, arrived } = await jumped(id, until)
    moments.push(now)
    if (arrived) return moments
  }
}

describe('a jump to a date', () => {
  it('stops at each moment on the way, so that everything happens at its time', async () => {
    const id = await rehearsing('ada.date@rehearsal.example')
    const start = on.install.clock.now()
    const moments = await goTo(id, start + 3 * day)
    expect(moments.map((at) => Date.parse(at) - start)).toEqual([2 * day, 3 * day])
    const mail = await mailFor(on.install, 'ada.date@rehearsal.example', 2)
    expect(Date.parse(mail[1]!.headers.date!) - start).toBe(2 * day)
    expect((await on.view(id)).now).toBe(new Date(start + 3 * day).toISOString())
  })

  it('goes there too when nothing is due', async () => {
    const id = await on.add('idle@rehearsal.example')
    await on.mara.post(`/people/${id}/rehearsal`, { on: true })
    expect((await jump(id)).status).toBe(409)
    const until = on.install.clock.now() + 400 * day
    expect(await jumped(id, until)).toEqual({ now: new Date(until).toISOString(), moved: 0, arrived: true })
  })

  it('does not go back, nor to a year that was mistyped, and says so; nothing changes', async () => {
    const id = await rehearsing('back@rehearsal.example')
    const now = on.install.clock.now()
    const back = await jump(id, now - 1)
    expect(back.status).toBe(409)
    expect(await back.json()).toMatchObject({ title: 'That moment is behind them' })
    expect((await jump(id, Date.UTC(2226, 0))).status).toBe(409)
    expect((await on.mara.post(`/people/${id}/jump`, { until: 'tomorrow' })).status).toBe(422)
    expect((await on.view(id)).now).toBe(new Date(now).toISOString())
  })

  it('is not held up by what is only reported elsewhere, nor by what is tried again later', async () => {
    const id = await on.add('reported@rehearsal.example', { rehearsal: true })
    for (const name of ['callWebhook', 'startFollowups'])
      await on.q.rows(
        `select graphile_worker.add_job($1, json_build_object('contact', $2::bigint), run_at := now() + interval '1 hour')`,
        [name, id],
      )
    const until = on.install.clock.now() + day
    expect(await jumped(id, until)).toMatchObject({ arrived: true })
    await on.q.rows('delete from graphile_worker._private_jobs where run_at > now()')
  })

  it('passes what a pause holds: a follow-up that stands still is no moment to stop at', async () => {
    const followup = await followups.live(
      programOf([{ kind: 'waitFor', id: 'wait', amount: 1, unit: 'days' }]),
    )
    const id = await on.add('paused@rehearsal.example')
    await on.mara.post(`/people/${id}/rehearsal`, { on: true })
    await followups.letIn(followup, [id])
    await on.mara.post(`/followups/${followup}/state`, { do: 'pause' })
    expect(await (await jump(id)).json()).toMatchObject({ title: 'Nothing is due' })
    const until = on.install.clock.now() + 2 * day
    expect(await jumped(id, until)).toMatchObject({ arrived: true, moved: 0 })
  })

  it('lets them in on their birthday, by their own clock', async () => {
    const field = await made<{ id: number }>(
      on.mara.post('/fields', { name: 'Birthday', kind: 'date', options: [] }),
    )
    const followup = await followups.live(
      programOf([{ kind: 'waitFor', id: 'wait', amount: 1, unit: 'hours' }], {
        startsWhen: [
          { kind: 'dateComes', field: field.id, side: 'after', days: 0, every: 'year', time: '09:00' },
        ],
      }),
    )
    const now = new Date(on.install.clock.now())
    const born = new Date(Date.UTC(1990, now.getUTCMonth(), now.getUTCDate() + 10))
    const id = await on.add('born@rehearsal.example', {
      fields: { [field.id]: born.toISOString().slice(0, 10) },
    })
    await on.mara.post(`/people/${id}/rehearsal`, { on: true })
    const noon = Date.UTC(now.getUTCFullYear(), now.getUTCMonth(), now.getUTCDate() + 10, 12)
    await goTo(id, noon)
    const inside = await followups.standing(followup)
    expect(inside).toEqual([{ contact: id, step: 'wait' }])
  })
})

describe('a score in rehearsal', () => {
  it('falls into another band by time alone, at the moment on their own clock', async () => {
    const saved = await made<{ id: number; work: number }>(
      on.mara.post('/scorecards', {
        name: 'Interest',
        card: {
          behaviours: [
            {
              id: 'note',
              activity: 'followupStarted',
              details: {},
              capPerDay: null,
              capInAll: null,
              points: 20,
              halfLife: 10,
            },
          ],
          profile: [],
          bands: [
            { id: 'cool', name: 'Cool', from: null },
            { id: 'warm', name: 'Warm', from: 10 },
          ],
        },
      }),
    )
    await workEnded(on.mara, saved.work)
    const id = await rehearsing('fading@rehearsal.example')
    const start = on.install.clock.now()
    const band = async (): Promise<string | undefined> =>
      (await on.view(id)).scores.find(({ scorecard }) => scorecard.id === saved.id)?.band
    await goTo(id, start + 9 * day)
    expect(await band()).toBe('Warm')
    // Twenty points halve in ten days: by then it is ten, which is where warm begins.
    const moments = await goTo(id, start + 11 * day)
    expect(Math.abs(Date.parse(moments[0] ?? '') - start - 10 * day)).toBeLessThan(60_000)
    expect(await band()).toBe('Cool')
    expect((await on.view(id)).journal.find(({ title }) => title.includes('Warm'))).toBeDefined()
  })
})

describe('the stage of somebody in rehearsal', () => {
  it('has their mail and no other, with the moments on their own clock', async () => {
    await rehearsing('stage@rehearsal.example')
    const id = await rehearsing('backstage@rehearsal.example')
    await jumped(id)
    await mailFor(on.install, 'backstage@rehearsal.example', 2)
    const { mail, mailProblem } = await stage(id)
    expect(mailProblem).toBeNull()
    expect(mail).toHaveLength(2)
    expect(Date.parse(mail[0]!.at) - Date.parse(mail[1]!.at)).toBe(2 * day)
  })

  it('opens live pages as they come to them, in a frame that strangers do not get', async () => {
    const id = await rehearsing('frame@rehearsal.example')
    const { pages } = await stage(id)
    const page = pages.find(({ url }) => url.includes('/p/template-pack?'))
    const seen = await fetch(`${on.install.url}${page!.url}`)
    expect(seen.headers.get('content-security-policy')).toContain("frame-ancestors 'self'")
    const plain = await fetch(`${on.install.url}/p/template-pack`)
    expect(plain.headers.get('content-security-policy')).toContain("frame-ancestors 'none'")
  })

  it('is only for people in rehearsal', async () => {
    const id = await on.add('real@postbox.test')
    const answer = await on.mara.post(`/people/${id}/start-over`, {})
    expect(answer.status).toBe(409)
    expect((await on.mara.download(`/people/${id}/stage`)).status).toBe(409)
  })
})

describe('letting somebody in rehearsal in', () => {
  it('is done at once, or says why not; nobody real comes in that way', async () => {
    const followup = await followups.live(
      programOf([{ kind: 'waitFor', id: 'wait', amount: 1, unit: 'days' }]),
    )
    const id = await on.add('let.in@rehearsal.example', { rehearsal: true })
    const letIn = (person: number): Promise<Response> =>
      on.mara.post(`/people/${person}/let-in`, { followup })
    expect((await letIn(id)).status).toBe(204)
    expect(await followups.standing(followup)).toEqual([{ contact: id, step: 'wait' }])
    const again = await letIn(id)
    expect(again.status).toBe(409)
    expect(await again.json()).toMatchObject({
      title: 'They did not come in',
      detail: 'This person is already inside. Start over with them to begin anew.',
    })
    expect((await letIn(await on.add('let.real@postbox.test'))).status).toBe(409)
    await on.mara.post(`/followups/${followup}/state`, { do: 'pause' })
    expect(await (await letIn(id)).json()).toMatchObject({ title: 'This follow-up is not live' })
  })
})

describe('starting over', () => {
  it('leaves who they are, and nothing of what happened', async () => {
    const id = await rehearsing('anew@rehearsal.example')
    await on.mara.post(`/people/${id}/tags`, { add: ['Tried'], remove: [] })
    await jumped(id)
    await mailFor(on.install, 'anew@rehearsal.example', 2)
    expect((await on.mara.post(`/people/${id}/start-over`, {})).status).toBe(204)
    expect(await on.view(id)).toMatchObject({
      id,
      address: 'anew@rehearsal.example',
      firstName: 'Ada',
      rehearsal: true,
      marketingState: 'neverAsked',
      now: new Date(on.install.clock.now()).toISOString(),
      tags: [],
      consents: [],
      journal: [],
    })
    expect((await stage(id)).mail).toEqual([])
    expect(await on.mara.get(`/people/${id}/enrolments`)).toEqual([])
    // They sign up again like anybody new, and the file comes once more.
    await postForm(on.install.url, { address: 'anew@rehearsal.example', firstName: 'Ada' })
    expect(await mailFor(on.install, 'anew@rehearsal.example')).toHaveLength(1)
  })

  it('begins with somebody who may be written to, where that is wanted', async () => {
    const id = await on.add('agreed@rehearsal.example', { rehearsal: true })
    expect((await on.view(id)).rehearsal).toBe(true)
    expect((await on.mara.post(`/people/${id}/start-over`, { agreed: true })).status).toBe(204)
    expect(await on.view(id)).toMatchObject({ marketingState: 'subscribed', rehearsal: true })
  })
})
