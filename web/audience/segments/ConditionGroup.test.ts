import { beforeEach, describe, expect, it } from 'vitest'
import type { Condition } from '../../../core/audience/segments/condition.ts'
import { condition } from '../../../core/audience/segments/condition.ts'
import { modelOf, show, type Shown } from '../../../testing/screen.ts'
import { vocabulary } from '../../../testing/vocabulary.ts'
import ConditionGroup from './ConditionGroup.vue'
import type { Group } from './subjects.ts'
import { useVocabulary } from './vocabulary.ts'

let shown: Shown
const open = async (tree: Group): Promise<void> => {
  shown = await show(ConditionGroup, { modelValue: tree, depth: 0 })
  useVocabulary().words = vocabulary
  await shown.wrapper.vm.$nextTick()
}
const tree = (): Group => modelOf(shown, ConditionGroup) as Group
const lines = (): Condition[] => tree().of

beforeEach(() => open({ kind: 'all', of: [] }))

describe('a condition', () => {
  it('begins with everybody, and gets its first line with the keyboard in it', async () => {
    await shown.press('Narrow down')
    expect(tree()).toEqual({ kind: 'all', of: [{ kind: 'hasTag', tag: 1 }] })
    expect(document.activeElement?.getAttribute('aria-label')).toBe('What the line is about')
    expect(shown.text()).toContain('everybody who')
  })

  it('is joined by and, or by or, for all its lines at once', async () => {
    await open({
      kind: 'all',
      of: [
        { kind: 'hasTag', tag: 1 },
        { kind: 'hasTag', tag: 2 },
        { kind: 'topic', topic: 9 },
      ],
    })
    await shown.fill('How the lines go together', 'any')
    expect(tree().kind).toBe('any')
    expect([...shown.page.querySelectorAll('.join')].at(-1)!.textContent.trim()).toBe('or')
  })

  it('says the opposite of a line in words, and takes it back', async () => {
    await open({ kind: 'all', of: [{ kind: 'hasTag', tag: 1 }] })
    await shown.press('Line 1: say the opposite')
    expect(lines()).toEqual([{ kind: 'not', of: { kind: 'hasTag', tag: 1 } }])
    expect(shown.control('What the line is about').selectedOptions[0]!.text).toBe('does not have the tag')
    await shown.press('Line 1: say the opposite')
    expect(lines()).toEqual([{ kind: 'hasTag', tag: 1 }])
  })

  it('nests groups three deep and no deeper', async () => {
    await shown.press('Narrow down')
    await shown.press('Add a group')
    expect(lines()[1]).toEqual({ kind: 'any', of: [{ kind: 'hasTag', tag: 1 }] })
    const deep: Group = { kind: 'all', of: [{ kind: 'hasTag', tag: 1 }] }
    await open({
      kind: 'all',
      of: [{ kind: 'any', of: [{ kind: 'all', of: [{ kind: 'any', of: [deep] }] }] }],
    })
    // One for each of the three outer groups; the innermost ones have none.
    expect(shown.controls('Add a group')).toHaveLength(3)
  })

  it('keeps the keyboard where a line was removed', async () => {
    await open({
      kind: 'all',
      of: [
        { kind: 'hasTag', tag: 1 },
        { kind: 'topic', topic: 9 },
      ],
    })
    await shown.press('Remove line 1')
    expect(lines()).toEqual([{ kind: 'topic', topic: 9 }])
    expect((document.activeElement as HTMLSelectElement).value).toBe('topic')
  })
})

describe('a line', () => {
  it.each([
    ['field', { kind: 'field', field: 'country', test: { test: 'isSet' } }],
    ['state', { kind: 'state', is: ['subscribed'] }],
    ['topic', { kind: 'topic', topic: 9 }],
    ['created', { kind: 'created', within: { kind: 'last', amount: 30, unit: 'days' } }],
    ['source', { kind: 'source', name: 'utm_source', test: { test: 'isSet' } }],
    ['band', { kind: 'band', scorecard: 7, band: 'hot' }],
    ['score', { kind: 'score', scorecard: 7, atLeast: 10 }],
    ['followup', { kind: 'followup', followup: 6, is: 'inside' }],
    ['segment', { kind: 'segment', segment: 5 }],
    ['did emailOpened', { kind: 'did', activity: 'emailOpened', details: {}, atLeast: 1 }],
  ] as const)('about %s begins with something that can be used', async (subject, leaf) => {
    await shown.press('Narrow down')
    await shown.fill('What the line is about', subject)
    expect(lines()).toEqual([leaf])
    expect(condition.safeParse(tree()).success).toBe(true)
  })

  it('about what somebody did asks which, how often, and when', async () => {
    await open({ kind: 'all', of: [{ kind: 'did', activity: 'emailClicked', details: {}, atLeast: 1 }] })
    await shown.fill('Which of the emails', '4')
    await shown.fill('Times', '3')
    await shown.fill('When', 'last')
    await shown.fill('How many', '2')
    await shown.fill('Of what', 'weeks')
    expect(lines()).toEqual([
      {
        kind: 'did',
        activity: 'emailClicked',
        details: { email: 4 },
        atLeast: 3,
        within: { kind: 'last', amount: 2, unit: 'weeks' },
      },
    ])
    await shown.fill('Which link', '12')
    expect(lines()).toMatchObject([{ details: { email: 4, link: 12 } }])
    await shown.fill('Which of the emails', '0')
    await shown.fill('When', 'ever')
    expect(lines()).toMatchObject([{ details: {}, within: undefined }])
  })

  it('takes no number that makes no sense', async () => {
    await open({ kind: 'all', of: [{ kind: 'did', activity: 'emailClicked', details: {}, atLeast: 2 }] })
    for (const typed of ['0', '-1', '1.5', '']) await shown.fill('Times', typed)
    expect(lines()).toMatchObject([{ atLeast: 2 }])
  })

  it('between two days begins with today in the business’s zone', async () => {
    await open({
      kind: 'all',
      of: [{ kind: 'created', within: { kind: 'last', amount: 1, unit: 'days' } }],
    })
    await shown.fill('When', 'between')
    const today = new Intl.DateTimeFormat('sv-SE', { timeZone: 'Europe/Dublin' }).format(new Date())
    expect(lines()).toEqual([{ kind: 'created', within: { kind: 'between', from: today, to: today } }])
    await shown.fill('First day', '2026-01-31')
    await shown.fill('Last day', '')
    expect(lines()).toEqual([{ kind: 'created', within: { kind: 'between', from: '2026-01-31', to: today } }])
  })

  it('about an own field asks what fits its kind', async () => {
    await open({ kind: 'all', of: [{ kind: 'field', field: 'country', test: { test: 'isSet' } }] })
    await shown.fill('Field', '8')
    expect(lines()).toEqual([{ kind: 'field', field: 8, test: { test: 'atLeast', value: 1 } }])
    await shown.fill('With what', '12')
    expect(lines()).toEqual([{ kind: 'field', field: 8, test: { test: 'atLeast', value: 12 } }])
    await shown.fill('Field', '10')
    await shown.fill('How it compares', 'onOrAfter')
    await shown.fill('Day', '2026-05-01')
    expect(lines()).toEqual([{ kind: 'field', field: 10, test: { test: 'onOrAfter', date: '2026-05-01' } }])
    await shown.fill('Field', '3')
    await shown.fill('Choice', 'coptic')
    expect(lines()).toEqual([{ kind: 'field', field: 3, test: { test: 'isAnyOf', values: ['coptic'] } }])
    // It was the only choice there is: taken away, it can be chosen again.
    expect(shown.controls('Choice')).toEqual([])
    await shown.press('Take away Coptic')
    expect(lines()).toEqual([{ kind: 'field', field: 3, test: { test: 'isAnyOf', values: ['…'] } }])
    expect(document.activeElement).toBe(shown.control('Choice'))
    await shown.fill('Field', 'lastName')
    await shown.fill('How it compares', 'isAnyOf')
    await shown.fill('With what', 'Alder, Rookwood ,')
    expect(lines()).toEqual([
      { kind: 'field', field: 'lastName', test: { test: 'isAnyOf', values: ['Alder', 'Rookwood'] } },
    ])
  })

  it('about countries names them, and takes as many as are meant', async () => {
    const named = (values: string[]) => [
      { kind: 'field', field: 'country', test: { test: 'isAnyOf', values } },
    ]
    await open({ kind: 'all', of: [{ kind: 'field', field: 'country', test: { test: 'isSet' } }] })
    await shown.fill('How it compares', 'isAnyOf')
    for (const code of ['IE', 'ES', 'PT']) await shown.fill('Choice', code)
    expect(lines()).toEqual(named(['IE', 'ES', 'PT']))
    expect(shown.text()).toMatch(/Ireland × ?or ?Spain × ?or ?Portugal/)
    expect([...shown.control('Choice').options].map(({ text }) => text)).not.toContain('Spain')
    await shown.press('Take away Spain')
    expect(lines()).toEqual(named(['IE', 'PT']))
  })

  it('about a country as it was typed once is still what it was', async () => {
    await open({
      kind: 'all',
      of: [{ kind: 'field', field: 'country', test: { test: 'isAnyOf', values: ['ie'] } }],
    })
    expect(shown.text()).toContain('Ireland')
    await open({ kind: 'all', of: [{ kind: 'field', field: 'country', test: { test: 'is', value: 'GB' } }] })
    expect(shown.control('With what').value).toBe('GB')
  })

  it('about marketing takes several states, and keeps the last one', async () => {
    await open({ kind: 'all', of: [{ kind: 'state', is: ['bounced'] }] })
    await shown.fill('State', 'complained')
    expect(lines()).toEqual([{ kind: 'state', is: ['bounced', 'complained'] }])
    await shown.press('Take away bounced')
    await shown.press('Take away complained')
    expect(lines()).toEqual([{ kind: 'state', is: ['complained'] }])
  })

  it('about a band follows the scorecard that is chosen', async () => {
    await open({ kind: 'all', of: [{ kind: 'band', scorecard: 7, band: 'cool' }] })
    await shown.fill('Band', 'hot')
    expect(lines()).toEqual([{ kind: 'band', scorecard: 7, band: 'hot' }])
  })

  it.each([
    ['bandReached', 'Which of the scorecards', '7', 'Which band', 'hot', { scorecard: 7, band: 'hot' }],
    ['unsubscribed', 'How', 'mailbox', 'Times', '1', { by: 'mailbox' }],
    ['quizFinished', 'with the result', 'Folder', 'Times', '1', { result: 'Folder' }],
  ] as const)('about %s asks its details', async (activity, first, one, second, two, details) => {
    await open({ kind: 'all', of: [{ kind: 'did', activity, details: {}, atLeast: 1 }] })
    await shown.fill(first, one)
    await shown.fill(second, two)
    expect(lines()).toMatchObject([{ details }])
    await shown.fill(first, first === 'with the result' || first === 'How' ? '' : '0')
    expect(lines()).toMatchObject([{ details: {} }])
  })

  it('about something deleted shows it as gone, and keeps it until another is chosen', async () => {
    await open({ kind: 'all', of: [{ kind: 'hasTag', tag: 77 }] })
    const which = shown.control('Which of the tags')
    expect(which.getAttribute('aria-invalid')).toBe('true')
    expect(which.selectedOptions[0]?.text).toBe('something deleted')
    await shown.fill('Which of the tags', '2')
    expect(lines()).toEqual([{ kind: 'hasTag', tag: 2 }])
    expect(which.getAttribute('aria-invalid')).toBeNull()
  })
})
