import { describe, expect, it } from 'vitest'
import type { QuizReport } from '../../contract/quizzes.ts'
import { composer } from '../../core/blocks/compose.ts'
import { popUpContent } from '../../core/capture/popUp.ts'
import { numberedIds } from '../../testing/documents.ts'
import { junctionOf, liveJunction } from '../../testing/junctions.ts'
import { made } from '../../testing/people.ts'
import { lookAt, publish } from '../../testing/publishing.ts'
import { answerId, liveQuiz, quizId } from '../../testing/quizzes.ts'
import { useQuizSite } from '../../testing/quizSite.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const { visitor, content, coptic, longStitch, known, through, person } = useQuizSite(on)
const { block, section, document } = composer(numberedIds('around'))
const never = { ask: 'never' as const, form: null, words: '' }
const leading = (target: object) =>
  content({ address: never, results: [coptic({ shows: { by: 'target', target } }), longStitch()] })

describe('a result', () => {
  it('has an address of its own for others, which says nothing of who got it', async () => {
    const sharing = { title: 'I bind like a Copt', words: 'And you?', picture: null }
    const shared = content({
      results: [coptic({ sharing }), longStitch()],
      share: { buttons: ['copy', 'email'], place: 'above' },
      showsShares: true,
    })
    await liveQuiz(on, 'shared', shared)
    const result = await visitor.sign(await through('shared'), {
      address: 'sharer@postbox.test',
      consent: 'yes',
    })
    expect(result.markup).toContain('What others got')
    const address = /data-share="([^"]+)"/.exec(result.markup)![1]!
    const seen = await visitor.open(address)
    expect(seen.markup).toContain('<meta property="og:title" content="I bind like a Copt"')
    expect(seen.markup).toContain('Take the quiz yourself')
    expect((await lookAt(`${on.install.url}/q/shared/r/nothing1`)).status).toBe(404)
  })

  it('leads to a page where it has none of its own', async () => {
    const page = await publish(on, 'quiz-over', [block('heading', { words: 'Over' })])
    await liveQuiz(on, 'leading', leading({ to: 'page', page }))
    expect((await through('leading')).url).toContain('/p/quiz-over')
  })

  it('leads by a junction as the one who took it', async () => {
    const page = await publish(on, 'for-copts', [block('heading', { words: 'Copts' })])
    const tagged = await on.q.row<{ id: number }>(`select id from tag where name = 'Quiz: Coptic'`)
    const other = await publish(on, 'for-others', [block('heading', { words: 'Others' })])
    const junction = await liveJunction(
      on,
      'after-quiz',
      junctionOf({
        rules: [{ id: 'tagged', when: { kind: 'hasTag', tag: tagged!.id }, target: { to: 'page', page } }],
        otherwise: { to: 'page', page: other },
      }),
    )
    const asking = content({
      results: [coptic({ shows: { by: 'target', target: { to: 'junction', junction } } }), longStitch()],
    })
    await liveQuiz(on, 'sorting', asking)
    const sent = await visitor.sign(await through('sorting'), { address: 'new@postbox.test', consent: 'yes' })
    expect(sent.url).toContain('/p/for-copts')
    // Somebody whose address was typed by another is sent where everybody goes.
    const contact = await on.add('typed.again@postbox.test')
    await on.q.rows(
      `insert into contact_tag (contact_id, tag_id, added_at, added_by) values ($1, $2, now(), 'test')`,
      [contact, tagged!.id],
    )
    const typed = await visitor.sign(await through('sorting'), {
      address: 'typed.again@postbox.test',
      consent: 'yes',
    })
    expect(typed.url).toContain('/p/for-others')
  })

  it('may lead out of the house: its pages allow it, and the script is told where', async () => {
    await liveQuiz(on, 'outward', leading({ to: 'web', url: 'https://stall.test/fair' }))
    const one = await visitor.begin(await visitor.open('/q/outward'))
    const policy = (await lookAt(one.url)).headers.get('content-security-policy') ?? ''
    expect(/form-action ([^;]+)/.exec(policy)?.[1]).toContain('https://stall.test')
    const two = await visitor.answer(one, answerId(0, 0))
    const last = await fetch(two.url, {
      method: 'POST',
      redirect: 'manual',
      body: new URLSearchParams({ question: quizId('question', 1), answer: answerId(1, 0) }),
    })
    const at = `${on.install.url}${last.headers.get('location')}`
    expect(at).toMatch(/\/end$/)
    const end = await lookAt(at)
    expect([end.status, end.headers.get('location')]).toEqual([302, 'https://stall.test/fair'])
    const told = await lookAt(at, { 'x-quiz-script': 'yes' })
    expect([told.status, await told.json()]).toEqual([200, { go: 'https://stall.test/fair' }])
  })

  it('knows the next step of the funnel in which the quiz stands', async () => {
    const id = await liveQuiz(on, 'a-step', leading({ to: 'nextStep' }))
    const page = await publish(on, 'behind-the-quiz', [block('heading', { words: 'Behind' })])
    const begun = {
      starter: 'nothing',
      path: 'with-quiz-step',
      currency: null,
      name: 'With a quiz',
      goal: 'list',
      labels: [],
    }
    const line = [
      { kind: 'quiz', id: 'sorting', quiz: id },
      { kind: 'page', id: 'behind', page },
    ]
    const funnel = await made<{ id: number }>(on.mara.post('/funnels', { ...begun, line }))
    expect((await on.mara.post(`/funnels/${funnel.id}/open`, { to: 'everybody' })).status).toBe(204)
    await eventually(async () => (await through('a-step')).url.includes('/p/behind-the-quiz'))
  })
})

describe('a frame', () => {
  it('shows the quiz on any other site, and on our own pages', async () => {
    const answer = await lookAt(`${on.install.url}/q/which-binding?in=frame`)
    const markup = await answer.text()
    expect(answer.headers.get('content-security-policy')).toContain('frame-ancestors *')
    expect(answer.headers.get('x-frame-options')).toBeNull()
    expect(markup).not.toContain('<footer>')
    expect(/href="(\/q\/[^"]+\/t\/[^"]+)"/.exec(markup)![1]).toContain('in=frame')
    const [row] = await on.q.rows<{ id: number }>(`select id from quiz where path = 'which-binding'`)
    await publish(on, 'with-quiz', [block('quiz', { quiz: row!.id })])
    const host = await lookAt(`${on.install.url}/p/with-quiz`)
    expect(await host.text()).toContain('src="/q/which-binding?in=frame"')
    expect(host.headers.get('content-security-policy')).toContain("frame-src 'self'")
    const inside = await lookAt(`${on.install.url}/q/which-binding`)
    expect(inside.headers.get('content-security-policy')).toContain("frame-ancestors 'none'")
  })

  it('stands in pop-ups, on other sites by its whole address', async () => {
    const [row] = await on.q.rows<{ id: number }>(`select id from quiz where path = 'which-binding'`)
    const popUp = popUpContent.parse({
      title: 'A quiz',
      document: document(section([{ blocks: [block('quiz', { quiz: row!.id })] }])),
      elsewhere: true,
    })
    const { id } = await made<{ id: number }>(
      on.mara.post('/pop-ups', { name: 'With a quiz', content: popUp }),
    )
    expect((await on.mara.post(`/pop-ups/${id}/publish`, { version: 1, revision: 1 })).status).toBe(204)
    const { key } = (await on.q.row<{ key: string }>('select key from pop_up where id = $1', [id]))!
    const shown = await eventually(async () => {
      const answer = await lookAt(`${on.install.url}/forms/show/${key}`, { origin: 'https://loft.test' })
      return answer.status === 200 && ((await answer.json()) as { html: string })
    })
    expect(shown.html).toContain(`src="${on.install.url}/q/which-binding?in=frame"`)
    // As a page by itself, where no script opens it.
    const page = await lookAt(`${on.install.url}/forms/frame/${key}`)
    expect(page.headers.get('content-security-policy')).toContain("frame-src 'self'")
  })
})

describe('the report', () => {
  it('tells where people leave, what they get, and who they are', async () => {
    const id = await liveQuiz(on, 'counted', content({ cover: null }))
    await visitor.sign(await through('counted'), { address: 'counted@postbox.test', consent: 'yes' })
    await through('counted', visitor, [answerId(0, 1), answerId(1, 1)])
    await through('counted', visitor, [answerId(0, 1)])
    await eventually(() => person('counted@postbox.test'))
    const report = await eventually(async () => {
      const read = await on.mara.get<QuizReport>(`/quizzes/${id}/report`)
      return read.seen === 3 && read
    })
    expect(report.began).toBe(3)
    expect(report.questions.map(({ answered, left }) => [answered, left])).toEqual([
      [3, 0],
      [2, 1],
    ])
    expect([report.finished.of, report.addressed.of]).toEqual([2, 1])
    expect(report.results.map(({ name, share, added }) => [name, share.of, added.of])).toEqual([
      ['Coptic', 1, 1],
      ['Long-stitch', 1, 0],
    ])
    expect(report.shares[answerId(0, 1)]).toBeCloseTo(2 / 3, 9)
    const csv = await (await on.mara.download(`/quizzes/${id}/takes.csv`)).text()
    expect(csv.split('\r\n')).toHaveLength(5)
    expect(csv).toContain('counted@postbox.test,Coptic')
  })

  it('counts what people bought after they got their result, and not before', async () => {
    const id = await liveQuiz(on, 'bought-by', content())
    const product = (await on.q.row<{ id: number }>(
      `insert into product (name, created_at) values ('Guide', now()) returning id`,
    ))!.id
    const buy = (contact: number): Promise<object[]> =>
      on.q.rows(
        `insert into activity (contact_id, kind, at, details)
         values ($1, 'productBought', $2, jsonb_build_object('product', $3::bigint, 'amount', 2900, 'currency', 'EUR'))`,
        [contact, new Date(on.install.clock.now()), product],
      )
    const [before, after] = [await on.add('before@postbox.test'), await on.add('after@postbox.test')]
    await buy(before)
    on.install.clock.move(60_000)
    for (const contact of [before, after]) await through('bought-by', known(contact))
    on.install.clock.move(60_000)
    await buy(after)
    const { results } = await on.mara.get<QuizReport>(`/quizzes/${id}/report`)
    expect([results[0]!.bought.of, results[0]!.bought.among]).toEqual([1, 2])
  })
})
