import { describe, expect, it } from 'vitest'
import { answerId, liveQuiz, publishQuiz, quizId } from '../../testing/quizzes.ts'
import { useQuizSite } from '../../testing/quizSite.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { mailFor } from '../../testing/visitor.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const { visitor, content, coptic, longStitch, known, through, person, journal, site } = useQuizSite(on)
const finished = 'finished the quiz “which-binding” with “Coptic”'

describe('who takes a quiz', () => {
  it('is not asked for the address again who is known by their own mail', async () => {
    const contact = await on.add('known@postbox.test', { firstName: 'Nell' })
    const result = await through('which-binding', known(contact))
    expect(result.markup).toContain('You are a Coptic')
    expect(result.markup).toContain('Hello Nell.')
    await eventually(async () => (await on.view(contact)).tags.length === 1)
    expect(await journal(contact)).toEqual([finished])
  })

  it('learns nothing, and changes nothing of who is known, by typing an address that is not theirs', async () => {
    const contact = await on.add('victim@postbox.test', { firstName: 'Vera' })
    await on.q.rows(`update contact set marketing_state = 'unsubscribed' where id = $1`, [contact])
    const result = await visitor.sign(await through(), { address: 'victim@postbox.test', consent: 'yes' })
    expect(result.markup).toContain('You are a Coptic')
    expect(result.markup).not.toContain('Vera')
    expect((await on.view(contact)).tags).toEqual([])
    expect(await journal(contact)).toEqual([])
    // Their own yes makes it theirs.
    const [mail] = await mailFor(on.install, 'victim@postbox.test')
    await fetch(/https?:\S+\/confirm\/\S+/.exec(mail!.text)![0], { method: 'POST', redirect: 'manual' })
    expect((await on.view(contact)).tags.map(({ name }) => name)).toEqual(['Quiz: Coptic'])
  })

  it('is answered alike whoever they say they are: new, subscribed, unsubscribed or refused', async () => {
    const told = async (address: string): Promise<unknown[]> => {
      const asked = await through()
      const result = await visitor.sign(asked, { address, consent: 'yes' })
      // What the quiz does with them must not be told by what can still be done with the take.
      const back = await visitor.open(asked.url.replace(/\/end$/, '/1'))
      const shape = (url: string): string => url.replace(/\/t\/[^/]+\//, '/t/x/')
      return [shape(result.url), result.markup, shape(back.url), back.status]
    }
    const asNew = await told('nobody.yet@postbox.test')
    for (const state of ['subscribed', 'unsubscribed', 'complained', 'bounced'] as const) {
      const address = `${state}@postbox.test`
      const contact = await on.add(address)
      await on.q.rows('update contact set marketing_state = $2 where id = $1', [contact, state])
      expect(await told(address), state).toEqual(asNew)
      expect(await told(address), `${state} again`).toEqual(asNew)
    }
  })

  it('acts for nobody else: who gets the address of a begun take finishes it as a stranger', async () => {
    const contact = await on.add('beginner@postbox.test')
    const own = known(contact)
    const two = await own.answer(await own.begin(await own.open('/q/which-binding')), answerId(0, 0))
    const end = await visitor.answer(await visitor.open(two.url), answerId(1, 0))
    expect(end.markup).toContain('We send you how to begin.')
    expect(await journal(contact)).toEqual([])
    await visitor.sign(end, { address: 'finisher@postbox.test', consent: 'yes' })
    const other = await eventually(() => person('finisher@postbox.test'))
    expect(await journal(other.id)).toEqual([finished])
    expect(await journal(contact)).toEqual([])
    // Nor does the other way round: what a stranger began is asked about, although they are known.
    const begun = await visitor.answer(
      await visitor.begin(await visitor.open('/q/which-binding')),
      answerId(0, 1),
    )
    const asked = await own.answer(await own.open(begun.url), answerId(1, 1))
    expect(asked.markup).toContain('We send you how to begin.')
    expect(await journal(contact)).toEqual([])
  })

  it('counts once, however often the last answer is pressed', async () => {
    const contact = await on.add('presser@postbox.test')
    const own = known(contact)
    const two = await own.answer(await own.begin(await own.open('/q/which-binding')), answerId(0, 0))
    const all = await Promise.all([1, 2, 3].map(() => own.answer(two, answerId(1, 0))))
    for (const each of all) expect(each.markup).toContain('You are a Coptic')
    expect(await journal(contact)).toEqual([finished])
  })

  it('may go on without an address where that is offered, and gives it below the result where that is asked', async () => {
    const ask = (way: 'skippable' | 'after') => ({ ask: way, form: site.form, words: 'Worth it.' })
    await liveQuiz(on, 'skippable', content({ address: ask('skippable') }))
    const asked = await through('skippable')
    const skip = /<a href="([^"]+)">Go on without<\/a>/.exec(asked.markup)![1]!.replaceAll('&amp;', '&')
    expect((await visitor.open(skip)).markup).toContain('You are a Coptic')
    await liveQuiz(on, 'afterwards', content({ address: ask('after') }))
    const result = await through('afterwards')
    expect([result.markup.includes('You are a Coptic'), result.markup.includes('Worth it.')]).toEqual([
      true,
      true,
    ])
    const wrong = await visitor.sign(result, { address: 'nowhere' })
    expect([wrong.status, wrong.markup.includes('Please check the address')]).toEqual([422, true])
    const signed = await visitor.sign(result, { address: 'later@postbox.test', consent: 'yes' })
    expect(signed.markup).not.toContain('Worth it.')
    await eventually(async () => (await person('later@postbox.test'))?.tags.length === 1)
  })

  it('gets their first result again where it is taken once, also when the quiz has changed since', async () => {
    const id = await liveQuiz(on, 'only-once', content({ takes: 'once' }))
    const contact = await on.add('once@postbox.test')
    const own = known(contact)
    const open = await own.begin(await own.open('/q/only-once'))
    await through('only-once', own)
    expect((await own.open('/q/only-once')).markup).toContain('You are a Coptic')
    // A take that stood open meanwhile does nothing more.
    await own.answer(await own.answer(open, answerId(0, 1)), answerId(1, 1))
    expect(await journal(contact)).toHaveLength(1)
    // Its result is taken out of the quiz: theirs stays.
    const { version, revision } = await on.mara.get<{ version: number; revision: number }>(`/quizzes/${id}`)
    const now = content({ takes: 'once', results: [longStitch()], title: 'Another one' })
    await on.mara.post(`/quizzes/${id}/save`, { version, revision, content: now })
    await publishQuiz(on, id)
    await eventually(async () => (await visitor.open('/q/only-once')).markup.includes('Another one'))
    expect((await own.open('/q/only-once')).markup).toContain('You are a Coptic')
  })

  it('takes their takes along when they turn out to be somebody known', async () => {
    const [one, two] = [await on.add('one.self@postbox.test'), await on.add('other.self@postbox.test')]
    await liveQuiz(on, 'merged', content({ takes: 'once' }))
    await through('merged', known(two))
    await on.mara.post(`/people/${one}/merge`, { other: two })
    expect((await known(one).open('/q/merged')).markup).toContain('You are a Coptic')
    expect(await journal(one)).toHaveLength(1)
  })

  it('counts nowhere in rehearsal', async () => {
    const id = await liveQuiz(on, 'rehearsed', content())
    const contact = await on.add('ada@rehearsal.test')
    await on.q.rows('update contact set rehearsal = true where id = $1', [contact])
    await through('rehearsed', known(contact))
    expect(await journal(contact)).toHaveLength(1)
    expect((await on.mara.get<{ began: number; seen: number }>(`/quizzes/${id}/report`)).began).toBe(0)
  })
})

describe('what a quiz does', () => {
  it('is done with whoever surely took it: tag, field, topic, points, follow-up, email, a note to the team', async () => {
    const added = async (sql: string): Promise<number> => (await on.q.row<{ id: number }>(sql))!.id
    const topic = await added(`insert into topic (name, created_at) values ('Bindings', now()) returning id`)
    const field = await added(
      `insert into field (name, kind, options, created_at) values ('Favourite', 'text', '[]', now()) returning id`,
    )
    const card = { behaviours: [], profile: [], bands: [{ id: 'cool', name: 'Cool', from: null }] }
    const scorecard = await added(
      `insert into scorecard (name, card, created_at, updated_at)
       values ('Interest', '${JSON.stringify(card)}', now(), now()) returning id`,
    )
    const email = (await on.q.row<{ id: number }>(
      `select id from email where published_version is not null and purpose = 'transactional' order by id limit 1`,
    ))!.id
    const actions = [
      { does: 'addTag', tag: site.tag },
      { does: 'setField', field, value: 'Coptic' },
      { does: 'joinTopic', topic },
      { does: 'givePoints', scorecard, points: 7 },
      { does: 'sendEmail', email },
      { does: 'notifyTeam' },
    ]
    await liveQuiz(on, 'doing', content({ results: [coptic({ actions }), longStitch()] }))

    const sure = await on.add('sure@postbox.test', { firstName: 'Sam' })
    await on.q.rows(
      `update contact set fields = jsonb_build_object($2::text, 'Something else') where id = $1`,
      [sure, field],
    )
    await through('doing', known(sure))
    const view = await on.view(sure)
    const titles = view.journal.map(({ title }) => title)
    expect(view.tags.map(({ name }) => name)).toEqual(['Quiz: Coptic'])
    expect(JSON.stringify(view)).toContain('"Coptic"')
    expect(titles).toContain('joined the topic “Bindings”')
    expect(titles).toContain('was given points in “Interest”')
    expect(await mailFor(on.install, 'sure@postbox.test')).toHaveLength(1)
    const [note] = await eventually(() => {
      const mails = on.install.mail.standins!.mailbox.list({ to: 'mara@quillfeather.example' })
      return mails.length > 0 && mails
    })
    expect(note!.subject).toBe('doing: Sam')
    expect(note!.text).toContain('Took the quiz “doing” and got “Coptic”.')
    expect(note!.text).toContain('Question 0? Answer 0')

    // Who only typed the address of somebody subscribed fills in what is blank, and no more.
    const typed = await on.add('typed@postbox.test')
    await on.q.rows(
      `update contact set marketing_state = 'subscribed', fields = jsonb_build_object($2::text, 'Mine') where id = $1`,
      [typed, field],
    )
    await visitor.sign(await through('doing'), { address: 'typed@postbox.test', consent: 'yes' })
    const after = await eventually(async () => {
      const seen = await on.view(typed)
      return seen.tags.length > 0 && seen
    })
    expect(JSON.stringify(after)).toContain('Mine')
    expect(after.journal.map(({ title }) => title)).not.toContain('joined the topic “Bindings”')
  })

  it('starts follow-ups by the quiz, a result, or an answer', async () => {
    const id = (await on.q.row<{ id: number }>(`select id from quiz where path = 'which-binding'`))!.id
    const contact = await on.add('asked.about@postbox.test')
    await through('which-binding', known(contact))
    const found = async (details: object): Promise<boolean> => {
      const tree = {
        kind: 'did' as const,
        activity: 'quizFinished' as const,
        details: { quiz: id, ...details },
        atLeast: 1,
      }
      const { rows } = await on.find({ search: 'asked.about', tree, rehearsal: 'no' })
      return rows.length === 1
    }
    expect(await found({ result: quizId('result', 0) })).toBe(true)
    expect(await found({ answers: [answerId(1, 0)] })).toBe(true)
    expect(await found({ result: quizId('result', 1) })).toBe(false)
    expect(await found({ answers: [answerId(1, 1)] })).toBe(false)
  })
})

describe('leaving a quiz', () => {
  it('is noted of who is known, once, an hour after their last answer', async () => {
    await liveQuiz(on, 'left-behind', content({ cover: null }))
    const contact = await on.add('leaver@postbox.test')
    const own = known(contact)
    await own.answer(await own.open('/q/left-behind'), answerId(0, 0))
    expect(await journal(contact)).toEqual([])
    on.install.clock.move(3_700_000)
    await eventually(async () => (await journal(contact)).length === 1)
    on.install.clock.move(3_700_000)
    await eventually(
      async () => (await on.q.rows('select from quiz_take where left_at is not null')).length === 1,
    )
    expect(await journal(contact)).toEqual(['left the quiz “left-behind” with 1 to go'])
  })
})
