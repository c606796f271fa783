import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import type { StepView } from '../../contract/followups.ts'
import type { Program } from '../../core/followups/program.ts'
import { allSteps } from '../../core/followups/step.ts'
import { layoutTimetable } from '../../core/followups/timetable.ts'
import { modelOf, show, type Shown } from '../../testing/screen.ts'
import TimetableChart from './TimetableChart.vue'

const program: Program = {
  startsWhen: [],
  reentry: 'never',
  leavesWhen: [],
  zone: 'Europe/Dublin',
  steps: [
    { kind: 'send', id: 'file', email: 1 },
    { kind: 'waitFor', id: 'two-days', amount: 2, unit: 'days' },
    {
      kind: 'branch',
      id: 'clicked',
      arms: [
        {
          label: 'clicked',
          when: { kind: 'hasTag', tag: 1 },
          steps: [{ kind: 'send', id: 'invite', email: 1 }],
        },
      ],
      otherwise: { label: 'did not', steps: [{ kind: 'send', id: 'remind', email: 1 }] },
    },
  ],
}
const steps: StepView[] = allSteps(program.steps).map(({ id, kind }) => ({
  id,
  kind,
  title: `step ${id}`,
  detail: `what ${id} does`,
  waiting: id === 'two-days' ? 1200 : 0,
  email: null,
  outcomes: {},
}))

let shown: Shown
const press = async (...keys: string[]): Promise<void> => {
  for (const key of keys) {
    ;(document.activeElement?.closest('.timetable') ?? shown.page.querySelector('.timetable')!)
      .querySelector(':focus, .sheet')!
      .dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }))
    await flushPromises()
  }
}
const selected = (): unknown => modelOf(shown, TimetableChart)

beforeEach(async () => {
  shown = await show(TimetableChart, {
    modelValue: null,
    timetable: layoutTimetable(program),
    steps,
    dates: null,
  })
})

describe('a timetable', () => {
  it('has its moments as columns, its lanes by name, and says how many wait', () => {
    expect([...shown.page.querySelectorAll('.column')].map((each) => each.textContent.trim())).toEqual([
      'at once',
      'day 2',
    ])
    expect([...shown.page.querySelectorAll('.name')].map((each) => each.textContent.trim())).toEqual([
      'clicked',
      'did not',
    ])
    expect(shown.text()).toContain('1,200 here')
  })

  it('is walked with the arrow keys: along the line, and from lane to lane', async () => {
    await press('ArrowRight')
    expect(selected()).toBe('file')
    await press('ArrowRight')
    expect(selected()).toBe('two-days')
    await press('ArrowRight')
    expect(selected()).toBe('clicked')
    await press('ArrowDown')
    expect(selected()).toBe('invite')
    await press('ArrowDown')
    expect(selected()).toBe('remind')
    await press('ArrowUp', 'ArrowUp')
    expect(selected()).toBe('clicked')
    await press('ArrowLeft', 'ArrowLeft')
    expect(selected()).toBe('file')
  })

  it('stays where it is at an end of the line, with the keyboard there', async () => {
    await press('ArrowLeft')
    await press('ArrowLeft', 'ArrowUp')
    expect(selected()).toBe('file')
    await press('ArrowRight')
    expect(document.activeElement?.id).toBe('stop-two-days')
    expect(document.activeElement?.getAttribute('aria-pressed')).toBe('true')
  })

  it('shows dates in the place of elapsed time', async () => {
    shown = await show(TimetableChart, {
      modelValue: null,
      timetable: layoutTimetable(program),
      steps,
      dates: ['Tue 24 Nov, 10:00', 'Thu 26 Nov, 10:00'],
    })
    expect(shown.text()).toContain('Thu 26 Nov, 10:00')
    expect(shown.text()).not.toContain('day 2')
  })
})
