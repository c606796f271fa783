import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import type { JunctionRow, JunctionView, TriedJunction } from '../../contract/junctions.ts'
import type { ProblemDetails } from '../../contract/problems.ts'
import type { Condition } from '../../core/audience/segments/condition.ts'
import { composer } from '../../core/blocks/compose.ts'
import type { Target } from '../../core/blocks/target.ts'
import { emptyEmail } from '../../core/email/email.ts'
import type { Station } from '../../core/funnels/funnel.ts'
import { mostRules, type JunctionContent } from '../../core/junctions/junction.ts'
import { numberedIds } from '../../testing/documents.ts'
import { junctionOf, liveJunction, makeJunction } from '../../testing/junctions.ts'
import { made } from '../../testing/people.ts'
import { publish } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall({ worker: false })
const { block, text, section, document } = composer(numberedIds('junction'))
let page = 0
let tags: number[] = []
const tagged = (n: number): Condition => ({ kind: 'hasTag', tag: tags[n] ?? 0 })
const not = (of: Condition): Condition => ({ kind: 'not', of })
const to = (): Target => ({ to: 'page', page })
const rule = (id: string, when: Condition, target: Target = to()) => ({ id, when, target })

beforeAll(async () => {
  page = await publish(on, 'there', [block('heading', { words: 'There' })])
  const rows = await on.q.rows<{ id: number }>(
    `insert into tag (name, created_at) values ('One', now()), ('Two', now()), ('Three', now()) returning id`,
  )
  tags = rows.map(({ id }) => id)
})

const view = (id: number): Promise<JunctionView> => on.mara.get<JunctionView>(`/junctions/${id}`)
const faultsOf = async (content: JunctionContent): Promise<[string | null, string][]> =>
  (await view(await makeJunction(on, 'Faulty', content))).findings.map(({ part, words }) => [part, words])

describe('what keeps a junction from going live', () => {
  it('is a way that leads nowhere, to what is not live, or where no visitor comes', async () => {
    const { id: draft } = await made<{ id: number }>(
      on.mara.post('/junctions', { name: 'Not yet', content: junctionOf({}) }),
    )
    const found = await faultsOf(
      junctionOf({
        rules: [
          rule('nowhere1', tagged(0), { to: 'nowhere' }),
          rule('deadpage', tagged(1), { to: 'page', page: 9_999 }),
          rule('draftone', tagged(2), { to: 'junction', junction: draft }),
          rule('private1', { kind: 'state', is: ['bounced'] }, { to: 'web', url: 'http://192.168.0.1/x' }),
          rule('private2', { kind: 'state', is: ['waiting'] }, { to: 'web', url: 'http://[::1]:80/' }),
          rule('private3', { kind: 'state', is: ['subscribed'] }, { to: 'web', url: 'http://0x7f.1/' }),
        ],
        otherwise: { to: 'file', file: 9_999 },
      }),
    )
    expect(found).toEqual([
      ['nowhere1', 'Choose where it leads'],
      ['deadpage', 'It leads to a page that is not live'],
      ['draftone', 'It leads to a junction that is not live'],
      ['private1', 'It leads to a private address, which visitors cannot reach'],
      ['private2', 'It leads to a private address, which visitors cannot reach'],
      ['private3', 'It leads to a private address, which visitors cannot reach'],
      ['-', 'It leads to a file that was deleted'],
    ])
    const script = await on.mara.post('/junctions', {
      name: 'Script',
      content: { rules: [], otherwise: { to: 'web', url: 'javascript:alert(1)' } },
    })
    expect(script.status).toBe(422)
  })

  it('is a circle: by itself, by its own address, by another junction or a named link', async () => {
    const first = await liveJunction(on, 'round', junctionOf({ otherwise: to() }))
    const link = await made<{ id: number }>(
      on.mara.post('/named-links', {
        name: 'Round again',
        target: { to: 'junction', junction: first },
        actions: [],
      }),
    )
    const second = await liveJunction(
      on,
      'and-round',
      junctionOf({ otherwise: { to: 'link', link: link.id } }),
    )
    const own = new URL(on.install.url)
    const ways: Target[] = [
      { to: 'junction', junction: first },
      { to: 'path', path: '/j/round?x=1' },
      { to: 'web', url: `http://${own.host}/j/ROUND` },
      { to: 'link', link: link.id },
      { to: 'junction', junction: second },
    ]
    for (const otherwise of ways) {
      const now = await view(first)
      const saved = await on.mara.post(`/junctions/${first}/save`, {
        version: now.version,
        revision: now.revision,
        content: junctionOf({ otherwise }),
      })
      const { findings } = (await saved.json()) as JunctionView
      expect(findings.some(({ words }) => words.includes('go round in a circle'))).toBe(true)
      const { version, revision } = await view(first)
      expect((await on.mara.post(`/junctions/${first}/publish`, { version, revision })).status).toBe(422)
    }
  })

  it('is a circle that a named link would close, which is refused there', async () => {
    const link = { name: 'The spiral', target: { to: 'web', url: 'https://bench.test/' }, actions: [] }
    const { id } = await made<{ id: number }>(on.mara.post('/named-links', link))
    const junction = await liveJunction(on, 'spiral', junctionOf({ otherwise: { to: 'link', link: id } }))
    const closing = { ...link, target: { to: 'junction', junction } }
    const refused = await on.mara.post(`/named-links/${id}/save`, closing)
    expect([refused.status, ((await refused.json()) as ProblemDetails).title]).toEqual([
      422,
      expect.stringMatching(/circle/),
    ])
  })

  it('is the next step of a line on which nothing comes behind it', async () => {
    const here = await liveJunction(on, 'on-the-line', junctionOf({ otherwise: to() }))
    const funnel = {
      starter: 'nothing',
      path: 'line',
      currency: null,
      name: 'Line',
      goal: 'list',
      labels: [],
    }
    await made(on.mara.post('/funnels', { ...funnel, line: [] }))
    const after = async (line: Station[]): Promise<string[]> => {
      await on.q.rows('update funnel set stations = $1', [JSON.stringify(line)])
      const now = await view(here)
      const saved = await on.mara.post(`/junctions/${here}/save`, {
        version: now.version,
        revision: now.revision,
        content: junctionOf({ otherwise: { to: 'nextStep' } }),
      })
      return ((await saved.json()) as JunctionView).findings.map(({ words }) => words)
    }
    const station: Station = { kind: 'junction', id: 'sorting', junction: here }
    expect(await after([station])).toEqual([expect.stringMatching(/step/)])
    expect(await after([station, { kind: 'page', id: 'behind', page }])).toEqual([])
  })

  it('is a rule that nobody reaches, with who is taken before; and one that speaks of what is gone', async () => {
    const id = await makeJunction(
      on,
      'Wrong way round',
      junctionOf({
        rules: [
          rule('eitherone', { kind: 'any', of: [tagged(0), tagged(1)] }),
          { ...rule('firstonly', { kind: 'all', of: [tagged(0), not(tagged(1))] }), name: 'Only one' },
        ],
        otherwise: to(),
      }),
    )
    const { findings, proof } = await view(id)
    const words =
      'Nobody gets here: rule 1 (has the tag “One” or has the tag “Two”) takes everybody it asks for. For example, somebody who has the tag “One” and does not have the tag “Two” is sent on before.'
    expect(findings).toEqual([{ level: 'error', part: 'firstonly', words }])
    expect(proof).toMatchObject({
      provable: true,
      rules: [{ is: 'reached' }, { is: 'never', words }],
      untaken: ['Who does not have the tag “One” and does not have the tag “Two”'],
    })
    const gone = await view(
      await makeJunction(
        on,
        'Of something gone',
        junctionOf({ rules: [rule('deleted1', { kind: 'hasTag', tag: 99_999 })], otherwise: to() }),
      ),
    )
    expect(gone.proof.provable).toBe(false)
    expect(gone.findings[0]?.words).toContain('It asks about something that was deleted')
  })

  it('are a hundred rules and one', async () => {
    const rules = Array.from({ length: mostRules + 1 }, (_, i) =>
      rule(`rule${String(i).padStart(4, '0')}`, tagged(i % 3)),
    )
    const answer = await on.mara.post('/junctions', { name: 'Many', content: { rules, otherwise: to() } })
    const { fields } = (await answer.json()) as ProblemDetails
    expect([answer.status, Object.values(fields ?? {})]).toEqual([422, ['A junction has 100 rules at most']])
    const most = { rules: rules.slice(0, mostRules), otherwise: to() }
    expect((await on.mara.post('/junctions', { name: 'Most', content: most })).status).toBe(201)
  })
})

describe('who would go where now', () => {
  it('is what each person is told when they are tried, over the whole list in one statement', async () => {
    const people: number[] = []
    for (let n = 0; n < 12; n += 1) {
      const id = await on.add(`sorted${n}@postbox.test`, { firstName: n % 2 ? 'Odd' : 'Even' })
      people.push(id)
      for (const [i, tag] of tags.entries())
        if ((n >> i) & 1)
          await on.q.rows(
            `insert into contact_tag (contact_id, tag_id, added_at, added_by) values ($1, $2, now(), 'test')`,
            [id, tag],
          )
    }
    const id = await makeJunction(on, 'Counted', junctionOf({ otherwise: to() }))
    const leaf = fc.oneof(
      fc.nat(2).map(tagged),
      fc.constantFrom<Condition>(
        { kind: 'field', field: 'firstName', test: { test: 'is', value: 'odd' } },
        { kind: 'state', is: ['subscribed'] },
        // Nobody can tell: it takes nobody.
        { kind: 'hasTag', tag: 99_999 },
      ),
    )
    const when = fc.oneof(
      leaf,
      leaf.map(not),
      fc.array(leaf, { minLength: 1, maxLength: 3 }).map((of): Condition => ({ kind: 'any', of })),
      fc.array(leaf, { minLength: 1, maxLength: 3 }).map((of): Condition => ({ kind: 'all', of })),
    )
    await fc.assert(
      fc.asyncProperty(fc.array(when, { maxLength: 4 }), async (whens) => {
        const content = junctionOf({
          rules: whens.map((each, i) => rule(`ruleno${i}`, each)),
          otherwise: to(),
        })
        const counted = await made<{ rules: { rule: string; people: number }[] }>(
          on.mara.post(`/junctions/${id}/sorted`, { content }),
        )
        const told = new Map<string, number>()
        for (const contact of people) {
          const body = { content, contact }
          const tried = await made<TriedJunction>(on.mara.post(`/junctions/${id}/try`, body))
          told.set(tried.rule, (told.get(tried.rule) ?? 0) + 1)
        }
        for (const { rule: each, people: count } of counted.rules) expect(count).toBe(told.get(each) ?? 0)
      }),
      { numRuns: 12 },
    )
  })

  it('comes with the reason, and says of nobody that they are not there', async () => {
    const contact = await on.add('why@postbox.test')
    const content = junctionOf({ rules: [rule('without1', not(tagged(0)))], otherwise: { to: 'nowhere' } })
    const id = await makeJunction(on, 'Why', content)
    expect(await made(on.mara.post(`/junctions/${id}/try`, { content, contact }))).toEqual({
      rule: 'without1',
      to: 'the page “there”',
      reason: 'not (has the tag “One”: no)',
    })
    expect((await on.mara.post(`/junctions/${id}/try`, { content, contact: 999_999 })).status).toBe(404)
  })
})

describe('junctions of the Library', () => {
  it('are copied as drafts with their labels, get a path of their own, and are not deleted while something leads to them', async () => {
    const id = await liveJunction(
      on,
      'library',
      junctionOf({ rules: [rule('original', tagged(0))], otherwise: to() }),
    )
    await on.mara.post(`/junctions/${id}/settings`, { name: 'library', path: 'library', labels: ['spring'] })
    const copy = await made<{ id: number }>(on.mara.post(`/junctions/${id}/copy`))
    const rows = await on.mara.get<JunctionRow[]>('/junctions')
    expect(rows.find((row) => row.id === copy.id)).toMatchObject({
      name: 'library (copy)',
      path: 'library-copy',
      labels: ['spring'],
      state: 'draft',
      rules: 1,
    })
    expect((await view(copy.id)).content.rules[0]?.id).not.toBe('original')
    const again = await makeJunction(on, 'Library', junctionOf({}))
    expect((await view(again)).path).toBe('library-2')
    await makeJunction(on, 'Leads there', junctionOf({ otherwise: { to: 'junction', junction: id } }))
    const refused = await on.mara.post(`/junctions/${id}/delete`)
    expect([refused.status, ((await refused.json()) as ProblemDetails).detail]).toEqual([
      409,
      'Take it out of these first: junction Leads there.',
    ])
    expect((await on.mara.post(`/junctions/${again}/delete`)).status).toBe(204)
  })

  it('are named in texts by their path, also by one that they had before', async () => {
    const id = await liveJunction(on, 'by-path', junctionOf({ otherwise: to() }))
    await on.mara.post(`/junctions/${id}/settings`, { name: 'by-path', path: 'by-new-path', labels: [] })
    const naming = document(section([{ blocks: [text('Go on: {link to by-path}')] }]))
    const email = { name: 'Names it', content: emptyEmail({ subject: 'On you go', document: naming }) }
    expect((await on.mara.post('/emails', email)).status).toBe(201)
    const { usedIn } = await view(id)
    expect(usedIn).toEqual(['email Names it'])
    expect((await on.mara.post(`/junctions/${id}/delete`)).status).toBe(409)
  })

  it('say what is different from what visitors get, and go back', async () => {
    const content = junctionOf({
      rules: [{ ...rule('firstone', tagged(0)), name: 'First' }, rule('secondone', tagged(1))],
      otherwise: to(),
    })
    const id = await liveJunction(on, 'changed', content)
    const [one, two] = content.rules
    const next = junctionOf({
      ...content,
      rules: [two!, { ...one!, name: 'Renamed' }, rule('thirdone', tagged(2))],
      otherwise: { to: 'web', url: 'https://shop.example/' },
      trustsForms: true,
      carriesSource: false,
    })
    const { version, revision } = await view(id)
    const saved = await made<JunctionView>(
      on.mara.post(`/junctions/${id}/save`, { version, revision, content: next }),
    )
    expect(saved.changes).toEqual([
      'Added the rule for who has the tag “Three”',
      'Changed the rule “Renamed”',
      'Changed the order of the rules',
      'Changed where everybody else goes',
      'Changed what happens to visitors whom nobody knows',
      'Changed whether UTM values are passed on',
    ])
    // Somebody who began before has nothing overwritten.
    const stale = await on.mara.post(`/junctions/${id}/save`, { version, revision, content })
    expect(stale.status).toBe(409)
    await on.mara.post(`/junctions/${id}/go-back`, { version: 1 })
    await eventually(async () => (await view(id)).changes.length === 0)
  })
})
