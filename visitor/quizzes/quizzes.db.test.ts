import { get } from 'node:http'
import { describe, expect, it } from 'vitest'
import { answerId, countingQuestion, liveQuiz, publishQuiz, quizId } from '../../testing/quizzes.ts'
import { useQuizSite } from '../../testing/quizSite.ts'
import { lookAt } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'
import { quizScript } from './quizScript.ts'

const on = useInstall()
const { visitor, content, through, person, known: knownAs } = useQuizSite(on)
const backOf = (markup: string): string => /<a class="back" href="([^"]+)"/.exec(markup)![1]!

describe('a quiz without a script', () => {
  it('has a cover, one question a page, the address, and the result', async () => {
    const cover = await visitor.open('/q/which-binding')
    expect(cover.markup).toContain('Two questions, one binding.')
    const one = await visitor.begin(cover)
    expect(one.markup).toMatch(/Question 1 of 2/)
    expect(one.markup).toMatch(/<fieldset[^>]*>\s*<legend[^>]*>Question 0\?<\/legend>/)
    const two = await visitor.answer(one, answerId(0, 0))
    expect([/Question 2 of 2/.test(two.markup), two.markup.includes('Think of your desk.')]).toEqual([
      true,
      true,
    ])
    const asked = await visitor.answer(two, answerId(1, 1))
    expect(asked.markup).toContain('We send you how to begin.')
    expect(asked.markup).not.toContain('You are a')
    const result = await visitor.sign(asked, {
      address: 'taker@postbox.test',
      firstname: 'Ada',
      consent: 'yes',
    })
    expect(result.markup).toContain('You are a Coptic')
    const known = await eventually(() => person('taker@postbox.test'))
    expect(known.tags.map(({ name }) => name)).toEqual(['Quiz: Coptic'])
    expect(known.journal.map(({ title }) => title)).toContain(
      'finished the quiz “which-binding” with “Coptic”',
    )
  })

  it('forgets no answer on the way back or when it is loaded again', async () => {
    const two = await visitor.answer(
      await visitor.begin(await visitor.open('/q/which-binding')),
      answerId(0, 1),
    )
    const back = await visitor.open(backOf(two.markup))
    expect(back.markup).toMatch(new RegExp(`value="${answerId(0, 1)}"\\s+checked`))
    expect((await visitor.open(back.url)).markup).toContain('checked')
    // Beyond what is answered nobody gets.
    for (const beyond of ['9', '0', 'x', 'end'])
      expect((await visitor.open(two.url.replace(/\/\d$/, `/${beyond}`))).url).toBe(two.url)
  })

  it('says what is wrong with an answer, and keeps what was answered', async () => {
    const one = await visitor.begin(await visitor.open('/q/which-binding'))
    const none = await visitor.answer(one)
    expect([none.status, none.markup.includes('Please choose an answer')]).toEqual([422, true])
    const foreign = await visitor.answer(one, 'answer9of9')
    expect([foreign.status, foreign.markup.includes('Please choose one of the answers below')]).toEqual([
      422,
      true,
    ])
    const both = await visitor.answer(one, answerId(0, 0), answerId(0, 1))
    expect(both.markup).toContain('Please choose one answer')
  })

  it('keeps nothing of who only looks, and little of who only robs', async () => {
    const takes = async (): Promise<number> =>
      (await on.q.row<{ count: number }>('select count(*) count from quiz_take'))!.count
    const before = await takes()
    for (let i = 0; i < 20; i += 1) await visitor.begin(await visitor.open('/q/which-binding'))
    expect(await takes()).toBe(before)
    const one = await visitor.begin(await visitor.open('/q/which-binding'))
    for (let i = 0; i < 20; i += 1) await visitor.answer(one, answerId(0, i % 2))
    expect(await takes()).toBe(before + 1)
  })

  it('is light: its script weighs less than six thousand bytes', () => {
    expect(Buffer.byteLength(quizScript.source)).toBeLessThan(6_000)
  })

  it('answers forged, foreign and old addresses of takes without harm', async () => {
    const one = await visitor.begin(await visitor.open('/q/which-binding'))
    const token = /\/t\/([^/]+)\//.exec(one.url)![1]!
    const forged = await visitor.open(one.url.replace(token, `${token.slice(0, -3)}abc`))
    expect([forged.status, forged.markup.includes('Begin anew')]).toEqual([410, true])
    await liveQuiz(on, 'another-quiz', content({ cover: null }))
    expect((await visitor.open(one.url.replace('which-binding', 'another-quiz'))).status).toBe(410)
  })

  it('is found by the path that it had before, with what the address carries', async () => {
    const id = await liveQuiz(on, 'old-quiz', content())
    await on.mara.post(`/quizzes/${id}/settings`, { name: 'Moved', path: 'new-quiz', labels: [] })
    const at = (path: string): Promise<Response> => lookAt(`${on.install.url}/q/${path}`)
    await eventually(async () => (await at('old-quiz')).status === 301)
    for (const path of ['old-quiz/t/x/2?utm_source=a', 'old%2Dquiz/t/x/2?utm_source=a'])
      expect((await at(path)).headers.get('location')).toBe('/q/new-quiz/t/x/2?utm_source=a')
    expect((await at('no-such-quiz')).status).toBe(404)
  })

  it('is found under a domain of the business too', async () => {
    const { settings } = await on.mara.get<{ settings: object }>('/site')
    await on.mara.post('/site/settings', { ...settings, domains: ['quizzes.quillfeather.example'] })
    const { hostname, port } = new URL(on.install.url)
    const ask = (path: string): Promise<number> =>
      new Promise((done, failed) => {
        const headers = { host: 'quizzes.quillfeather.example' }
        get({ hostname, port, path, headers }, (answer) => {
          answer.resume()
          done(answer.statusCode ?? 0)
        }).on('error', failed)
      })
    await eventually(async () => (await ask('/q/which-binding')) === 200)
    await on.mara.post('/site/settings', { ...settings, domains: [] })
  })
})

describe('questions', () => {
  const both = [
    [1, 0],
    [0, 1],
  ]

  it('are skipped by answers, take several, numbers and any script, and keep to one order for a person', async () => {
    const field = await on.q.row<{ id: number }>(
      `insert into field (name, kind, options, created_at) values ('Bench', 'text', '[]', now()) returning id`,
    )
    await liveQuiz(
      on,
      'all-kinds',
      content({
        cover: null,
        questions: [
          countingQuestion(0, both),
          countingQuestion(1, both, { asks: 'several', most: 2, skippedBy: [answerId(0, 1)] }),
          {
            asks: 'number',
            id: 'howmany',
            words: 'How many?',
            answers: [
              { id: 'fewbooks', counts: { [quizId('result', 0)]: 5 } },
              { id: 'manybooks', from: 10, counts: { [quizId('result', 1)]: 5 } },
            ],
          },
          {
            asks: 'text',
            id: 'whereabouts',
            words: 'Where do you bind?',
            required: false,
            field: field!.id,
          },
          countingQuestion(
            4,
            [0, 1, 2, 3, 4, 5].map(() => [0, 0]),
            { shuffles: true },
          ),
        ],
      }),
    )
    let shown = await visitor.open('/q/all-kinds')
    shown = await visitor.answer(shown, answerId(0, 1))
    expect(shown.markup).toContain('How many?')
    expect((await visitor.answer(shown, 'lots')).markup).toContain('Please write a number')
    shown = await visitor.answer(shown, '12,5')
    shown = await visitor.answer(shown, 'an der Küche, 厨房, المطبخ')
    const orderOf = (markup: string): string[] =>
      [...markup.matchAll(/value="(answer4of\d)"/g)].map(([, id]) => id!)
    const order = orderOf(shown.markup)
    expect(orderOf((await visitor.open(shown.url)).markup)).toEqual(order)
    shown = await visitor.answer(shown, order[0]!)
    shown = await visitor.sign(shown, { address: 'kinds@postbox.test', consent: 'yes' })
    expect(shown.markup).toContain('You are a Long-stitch')
    const known = await eventually(() => person('kinds@postbox.test'))
    expect(JSON.stringify(known)).toContain('an der Küche, 厨房, المطبخ')
  })

  it('are answered by what they are, not by their place: a page that stood open answers no other one', async () => {
    const questions = [
      countingQuestion(0, both),
      countingQuestion(1, both, { skippedBy: [answerId(0, 1)] }),
      { asks: 'text' as const, id: 'freewords', words: 'Anything else?', required: false },
    ]
    await liveQuiz(on, 'two-windows', content({ cover: null, questions }))
    const one = await visitor.open('/q/two-windows')
    const open = await visitor.answer(one, answerId(0, 0))
    expect(open.markup).toContain('Question 1?')
    // In another window the first answer changes: the question that stands open is not asked any more.
    const other = await visitor.answer(one, answerId(0, 1))
    expect(other.markup).toContain('Anything else?')
    const stale = await visitor.answer(open, answerId(1, 0))
    expect(stale.markup).toContain('Anything else?')
    expect(stale.markup).not.toContain('answer1of0')
  })

  it('stay in their order when it is learned on the way who answers', async () => {
    const questions = [0, 1, 2, 3, 4].map((n) => countingQuestion(n, both))
    await liveQuiz(on, 'shuffled', content({ cover: null, shuffles: true, questions }))
    const begun = await visitor.open('/q/shuffled')
    const asked = (markup: string): string => /<legend[^>]*>([^<]+)</.exec(markup)![1]!
    const named = (markup: string): string => /name="answer"\s+value="([^"]+)"/.exec(markup)![1]!
    const second = await visitor.answer(begun, named(begun.markup))
    const contact = await on.add('recognised@postbox.test')
    const own = knownAs(contact)
    expect(asked((await own.open(second.url)).markup)).toBe(asked(second.markup))
    const seen = new Set([asked(begun.markup)])
    let shown = second
    for (let i = 0; i < 4; i += 1) {
      seen.add(asked(shown.markup))
      shown = await own.answer(shown, named(shown.markup))
    }
    expect(seen.size).toBe(5)
  })
})

describe('a quiz that changes', () => {
  it('is finished in the version that somebody began', async () => {
    const id = await liveQuiz(on, 'changing', content({ cover: null }))
    const one = await visitor.open('/q/changing')
    const view = await on.mara.get<{ version: number; revision: number }>(`/quizzes/${id}`)
    const other = content({
      cover: null,
      questions: [
        countingQuestion(7, [
          [1, 0],
          [0, 1],
        ]),
      ],
    })
    const place = { version: view.version, revision: view.revision }
    await on.mara.post(`/quizzes/${id}/save`, { ...place, content: other })
    await publishQuiz(on, id)
    await eventually(async () => (await visitor.open('/q/changing')).markup.includes('Question 7?'))
    const two = await visitor.answer(one, answerId(0, 0))
    expect(two.markup).toContain('Question 1?')
    expect((await visitor.answer(two, answerId(1, 0))).markup).toContain('We send you how to begin.')
  })
})

describe('a take that was begun long ago', () => {
  it('is begun anew', async () => {
    const one = await visitor.begin(await visitor.open('/q/which-binding'))
    expect((await through()).markup).toContain('We send you how to begin.')
    on.install.clock.move(61 * 86_400_000)
    const over = await visitor.open(one.url)
    expect([over.status, over.markup.includes('Begin anew')]).toEqual([410, true])
  })
})
