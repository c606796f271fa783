import { flushPromises } from '@vue/test-utils'
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

/** Chooses what the first line is about, by typing: the list is long. */
const begin = async (subject: string): Promise<void> => {
  await shown.type('Condition', subject)
  await shown.choose('Condition', subject)
}
const takeAway = async (title: string): Promise<void> => {
  const chip = [...shown.page.querySelectorAll('.v-chip')].find((each) => each.textContent.trim() === title)
  chip!.querySelector<HTMLElement>('.v-chip__close')!.click()
  await flushPromises()
}

beforeEach(() => open({ kind: 'all', of: [] }))

describe('a condition', () => {
  it('begins with everybody, and gets its first line with the keyboard in it', async () => {
    // A first line is there, ready to be chosen.
    expect(shown.shownIn('Condition')).toBe('')
    await begin('has the tag')
    expect(tree()).toEqual({ kind: 'all', of: [{ kind: 'hasTag', tag: 1 }] })
    expect(document.activeElement?.getAttribute('aria-label')).toBe('Condition')
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
    await shown.choose('And or or', 'or')
    expect(tree().kind).toBe('any')
    expect([...shown.page.querySelectorAll('.join')].at(-1)!.textContent.trim()).toBe('or')
  })

  it('says the opposite of a line in words, and takes it back', async () => {
    await open({ kind: 'all', of: [{ kind: 'hasTag', tag: 1 }] })
    await shown.press('Negate line 1')
    expect(lines()).toEqual([{ kind: 'not', of: { kind: 'hasTag', tag: 1 } }])
    expect(shown.shownIn('Condition')).toBe('does not have the tag')
    await shown.press('Negate line 1')
    expect(lines()).toEqual([{ kind: 'hasTag', tag: 1 }])
  })

  it('nests groups three deep and no deeper', async () => {
    await begin('has the tag')
    await shown.press('Add group')
    expect(lines()[1]).toEqual({ kind: 'any', of: [{ kind: 'hasTag', tag: 1 }] })
    const deep: Group = { kind: 'all', of: [{ kind: 'hasTag', tag: 1 }] }
    await open({
      kind: 'all',
      of: [{ kind: 'any', of: [{ kind: 'all', of: [{ kind: 'any', of: [deep] }] }] }],
    })
    // One for each of the three outer groups; the innermost ones have none.
    expect(shown.controls('Add group')).toHaveLength(3)
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
    expect(document.activeElement).toBe(shown.control('Condition'))
    expect(shown.shownIn('Condition')).toBe('agreed to the topic')
  })
})

describe('a line', () => {
  it.each([
    ['has the field', { kind: 'field', field: 'country', test: { test: 'isSet' } }],
    ['has the marketing status', { kind: 'state', is: ['subscribed'] }],
    ['agreed to the topic', { kind: 'topic', topic: 9 }],
    ['joined', { kind: 'created', within: { kind: 'last', amount: 30, unit: 'days' } }],
    ['arrived by a link with', { kind: 'source', name: 'utm_source', test: { test: 'isSet' } }],
    ['is in the band', { kind: 'band', scorecard: 7, band: 'hot' }],
    ['has a score', { kind: 'score', scorecard: 7, atLeast: 10 }],
    ['is in the follow-up', { kind: 'followup', followup: 6, is: 'inside' }],
    ['is in the segment', { kind: 'segment', segment: 5 }],
    ['opened', { kind: 'did', activity: 'emailOpened', details: {}, atLeast: 1 }],
  ] as const)('about %s begins with something that can be used', async (subject, leaf) => {
    await begin(subject)
    expect(lines()).toEqual([leaf])
    expect(condition.safeParse(tree()).success).toBe(true)
  })

  it('about what somebody did asks which, how often, and when', async () => {
    await open({ kind: 'all', of: [{ kind: 'did', activity: 'emailClicked', details: {}, atLeast: 1 }] })
    await shown.choose('Email', 'Grain direction')
    await shown.fill('Times', '3')
    await shown.choose('Period', 'in the last')
    await shown.fill('Amount', '2')
    await shown.choose('Unit', 'weeks')
    expect(lines()).toEqual([
      {
        kind: 'did',
        activity: 'emailClicked',
        details: { email: 4 },
        atLeast: 3,
        within: { kind: 'last', amount: 2, unit: 'weeks' },
      },
    ])
    await shown.choose('Link', 'Watch it')
    expect(lines()).toMatchObject([{ details: { email: 4, link: 12 } }])
    await shown.choose('Email', 'any')
    await shown.choose('Period', 'at any time')
    expect(lines()).toMatchObject([{ details: {}, within: undefined }])
  })

  it('takes no number that makes no sense', async () => {
    await open({ kind: 'all', of: [{ kind: 'did', activity: 'emailClicked', details: {}, atLeast: 2 }] })
    for (const typed of ['1.5', '']) await shown.fill('Times', typed)
    expect(lines()).toMatchObject([{ atLeast: 2 }])
    // Below the least there is, the least is taken.
    for (const typed of ['0', '-1']) await shown.fill('Times', typed)
    expect(lines()).toMatchObject([{ atLeast: 1 }])
  })

  it('between two days begins with today in the business’s zone', async () => {
    await open({
      kind: 'all',
      of: [{ kind: 'created', within: { kind: 'last', amount: 1, unit: 'days' } }],
    })
    await shown.choose('Period', 'between')
    const today = new Intl.DateTimeFormat('sv-SE', { timeZone: 'Europe/Dublin' }).format(new Date())
    expect(lines()).toEqual([{ kind: 'created', within: { kind: 'between', from: today, to: today } }])
    await shown.fill('First day', '2026-01-31')
    await shown.fill('Last day', '')
    expect(lines()).toEqual([{ kind: 'created', within: { kind: 'between', from: '2026-01-31', to: today } }])
  })

  it('about an own field asks what fits its kind', async () => {
    await open({ kind: 'all', of: [{ kind: 'field', field: 'country', test: { test: 'isSet' } }] })
    await shown.choose('Field', 'Books sewn')
    expect(lines()).toEqual([{ kind: 'field', field: 8, test: { test: 'atLeast', value: 1 } }])
    await shown.fill('Value', '12')
    expect(lines()).toEqual([{ kind: 'field', field: 8, test: { test: 'atLeast', value: 12 } }])
    await shown.choose('Field', 'First fair')
    await shown.choose('Comparison', 'on or after')
    await shown.fill('Day', '2026-05-01')
    expect(lines()).toEqual([{ kind: 'field', field: 10, test: { test: 'onOrAfter', date: '2026-05-01' } }])
    await shown.choose('Field', 'Binding')
    await shown.choose('Values', 'Coptic')
    expect(lines()).toEqual([{ kind: 'field', field: 3, test: { test: 'isAnyOf', values: ['coptic'] } }])
    await takeAway('Coptic')
    expect(lines()).toEqual([{ kind: 'field', field: 3, test: { test: 'isAnyOf', values: ['…'] } }])
    await shown.choose('Field', 'last name')
    await shown.choose('Comparison', 'that is any of')
    for (const name of ['Alder', 'Rookwood ']) await shown.addChip('Values', name)
    expect(lines()).toEqual([
      { kind: 'field', field: 'lastName', test: { test: 'isAnyOf', values: ['Alder', 'Rookwood'] } },
    ])
  })

  it('about countries names them, and takes as many as are meant', async () => {
    const named = (values: string[]) => [
      { kind: 'field', field: 'country', test: { test: 'isAnyOf', values } },
    ]
    await open({ kind: 'all', of: [{ kind: 'field', field: 'country', test: { test: 'isSet' } }] })
    await shown.choose('Comparison', 'that is any of')
    for (const name of ['Ireland', 'Spain', 'Portugal']) {
      await shown.type('Values', name)
      await shown.choose('Values', name)
    }
    expect(lines()).toEqual(named(['IE', 'ES', 'PT']))
    expect(shown.shownIn('Values')).toBe('Ireland, Spain, Portugal')
    await takeAway('Spain')
    expect(lines()).toEqual(named(['IE', 'PT']))
  })

  it('about a country as it was typed once is still what it was', async () => {
    await open({
      kind: 'all',
      of: [{ kind: 'field', field: 'country', test: { test: 'isAnyOf', values: ['ie'] } }],
    })
    expect(shown.text()).toContain('Ireland')
    await open({ kind: 'all', of: [{ kind: 'field', field: 'country', test: { test: 'is', value: 'GB' } }] })
    expect(shown.control('Value').value).toBe('GB')
  })

  it('about marketing takes several states, and keeps the last one', async () => {
    await open({ kind: 'all', of: [{ kind: 'state', is: ['bounced'] }] })
    await shown.choose('Marketing status', 'complained')
    expect(lines()).toEqual([{ kind: 'state', is: ['bounced', 'complained'] }])
    await takeAway('bounced')
    await takeAway('complained')
    expect(lines()).toEqual([{ kind: 'state', is: ['complained'] }])
  })

  it('about a band follows the scorecard that is chosen', async () => {
    await open({ kind: 'all', of: [{ kind: 'band', scorecard: 7, band: 'cool' }] })
    await shown.choose('Band', 'Hot')
    expect(lines()).toEqual([{ kind: 'band', scorecard: 7, band: 'hot' }])
  })

  it.each([
    [
      'bandReached',
      [
        ['Scorecard', 'Interest'],
        ['Band', 'Hot'],
      ],
      ['Scorecard', 'any'],
      { scorecard: 7, band: 'hot' },
    ],
    [
      'quizFinished',
      [
        ['Quiz', 'Which binding'],
        ['Result', 'Folder'],
        ['Answer', 'Thread'],
      ],
      ['Quiz', 'any'],
      { quiz: 14, result: 'folder', answers: ['thread'] },
    ],
    [
      'junctionPassed',
      [
        ['Junction', 'What next'],
        ['Rule', 'New here'],
      ],
      ['Junction', 'any'],
      { junction: 15, rule: 'newcomers' },
    ],
    ['unsubscribed', [['How', 'in the mailbox']], ['How', 'in any way'], { by: 'mailbox' }],
  ] as const)('about %s asks its details', async (activity, choices, without, details) => {
    await open({ kind: 'all', of: [{ kind: 'did', activity, details: {}, atLeast: 1 }] })
    for (const [label, title] of choices) await shown.choose(label, title)
    expect(lines()).toMatchObject([{ details }])
    await shown.choose(without[0], without[1])
    expect(lines()).toMatchObject([{ details: {} }])
  })

  it('about something deleted shows it as gone, and keeps it until another is chosen', async () => {
    await open({ kind: 'all', of: [{ kind: 'hasTag', tag: 77 }] })
    expect(shown.control('Tag').getAttribute('aria-invalid')).toBe('true')
    expect(shown.shownIn('Tag')).toBe('something deleted')
    await shown.choose('Tag', 'Bookbinder')
    expect(lines()).toEqual([{ kind: 'hasTag', tag: 2 }])
    expect(shown.control('Tag').getAttribute('aria-invalid')).toBeNull()
  })
})
