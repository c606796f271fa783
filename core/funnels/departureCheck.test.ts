import { describe, expect, it } from 'vitest'
import { composer } from '../blocks/compose.ts'
import type { Target } from '../blocks/target.ts'
import { simpleForm } from '../capture/form.ts'
import { contentOf, numberedIds } from '../../testing/documents.ts'
import { checkFunnel, type CheckedPage, type CheckedStation } from './departureCheck.ts'

const { block, section, document } = composer(numberedIds('check'))

const page = (id: number, leads: Target[], rest: Partial<CheckedPage> = {}): CheckedPage => ({
  id,
  name: `Page ${id}`,
  path: `page-${id}`,
  purpose: 'landing',
  live: true,
  content: contentOf(
    document(section([{ blocks: leads.map((target) => block('button', { label: 'On', target })) }])),
    `Page ${id}`,
  ),
  course: null,
  forms: [],
  followups: [],
  otherFunnels: [],
  ...rest,
})
const at = (of: CheckedPage | null): CheckedStation => ({
  id: `s${of?.id ?? 'gone'}`,
  title: of?.name ?? '',
  kind: 'page',
  page: of,
})
const outside: CheckedStation = { id: 'shop', title: 'The shop', kind: 'outside', page: null }
const next: Target = { to: 'nextStep' }
const says = (...line: CheckedStation[]): string[] => checkFunnel(line).map(({ words }) => words)

describe('the check of a funnel', () => {
  it('has nothing to say of a line that leads from the first step to the last', () => {
    expect(says(at(page(1, [next])), at(page(2, [{ to: 'page', page: 3 }])), at(page(3, [])))).toEqual([])
    expect(says(at(page(1, [{ to: 'path', path: '/p/page-2?from=one' }])), at(page(2, [])))).toEqual([])
    expect(says(at(page(1, [next])), outside)).toEqual([])
  })

  it('finds a line without steps, and a step that was deleted', () => {
    expect(says()).toEqual(['There is no step yet: add the page that people come to first'])
    expect(says(at(page(1, [next])), at(null))).toEqual([
      'Step 2 was deleted: take it out, or put another page there',
    ])
  })

  it('finds a step that nobody gets to; an email of a follow-up may lead there', () => {
    const lost = says(
      at(page(1, [next])),
      at(page(2, [{ to: 'web', url: 'https://x.test/' }])),
      at(page(3, [])),
    )
    expect(lost).toEqual(['Nobody gets to “Page 3”: no step before it, and no email, leads there'])
    // "Next step" leads one step on, and no further.
    expect(says(at(page(1, [{ to: 'page', page: 2 }])), at(page(2, [])), at(page(3, [])))).toContainEqual(
      expect.stringContaining('Nobody gets to “Page 3”'),
    )
    const mailed = page(1, [next], {
      followups: [{ id: 9, name: 'Welcome', state: 'live', leads: [{ to: 'page', page: 3 }] }],
    })
    expect(says(at(mailed), at(page(2, [next])), at(page(3, [])))).toEqual([])
  })

  it('follows where a form leads after it was sent', () => {
    const form = {
      id: 4,
      name: 'Sign-up',
      content: { ...simpleForm({}), after: { then: 'go' as const, target: next } },
    }
    expect(says(at(page(1, [], { forms: [form] })), at(page(2, [])))).toEqual([])
  })

  it('knows that a confirmed address leads on, and lessons of one course to each other', () => {
    const plain = simpleForm({})
    const content = {
      ...plain,
      confirm: { ...plain.confirm, when: 'always' as const, next: { to: 'page' as const, page: 2 } },
    }
    expect(says(at(page(1, [], { forms: [{ id: 4, name: 'Letter', content }] })), at(page(2, [])))).toEqual(
      [],
    )
    const lesson = (id: number): CheckedStation => at(page(id, [], { purpose: 'lesson', course: 3 }))
    expect(checkFunnel([lesson(1), lesson(2)]).filter(({ words }) => !/may list/.test(words))).toEqual([])
  })

  it('finds a dead end, and says so as advice', () => {
    const found = checkFunnel([at(page(1, [])), at(page(2, []))])
    expect(found.find(({ level }) => level === 'advice')).toEqual({
      level: 'advice',
      words: '“Page 1” leads nowhere: add a button to the next step',
      part: '/library/pages/1',
    })
  })

  it.each<[string, Partial<CheckedPage>, RegExp, 'error' | 'advice']>([
    ['a page that is no longer live', { live: false }, /“Page 1” is not live/, 'error'],
    ['a thank-you page that is listed', { purpose: 'thankYou' }, /search engines may list it/, 'error'],
    [
      'a follow-up that never went live',
      { followups: [{ id: 9, name: 'Welcome', state: 'draft', leads: [] }] },
      /“Welcome” begins here and is not live/,
      'error',
    ],
    [
      'a follow-up that is paused',
      { followups: [{ id: 9, name: 'Welcome', state: 'paused', leads: [] }] },
      /“Welcome” begins here and is paused/,
      'advice',
    ],
    ['another funnel through it', { otherFunnels: ['Autumn'] }, /stands in “Autumn” too/, 'advice'],
  ])('finds %s', (_what, rest, words, level) => {
    const [found] = checkFunnel([at(page(1, [next], rest)), at(page(2, []))])
    expect(found?.words).toMatch(words)
    expect(found?.level).toBe(level)
    expect(found?.part).toMatch(/^\/(library\/pages|follow-ups)\/\d$/)
  })
})
