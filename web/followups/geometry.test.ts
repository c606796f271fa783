import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { allSteps } from '../../core/followups/step.ts'
import { type Program } from '../../core/followups/program.ts'
import { layoutTimetable } from '../../core/followups/timetable.ts'
import { anyProgram } from '../../testing/programs.ts'
import { drawTimetable } from './geometry.ts'

const frame: Omit<Program, 'steps'> = {
  startsWhen: [],
  reentry: 'never',
  leavesWhen: [],
  zone: 'Europe/Dublin',
}
const when = { kind: 'hasTag', tag: 1 } as const

function draw(program: Program) {
  const steps = new Map(allSteps(program.steps).map((step) => [step.id, step]))
  return { steps, drawing: drawTimetable(layoutTimetable(program), (id) => steps.get(id)!.kind) }
}

describe('a timetable on screen', () => {
  it('runs from left to right, with a wait between two emails', () => {
    const { drawing } = draw({
      ...frame,
      steps: [
        { kind: 'send', id: 'a', email: 1 },
        { kind: 'waitFor', id: 'w', amount: 2, unit: 'days' },
        { kind: 'send', id: 'b', email: 1 },
      ],
    })
    const [first, second] = drawing.tokens
    expect([first?.step, second?.step]).toEqual(['a', 'b'])
    expect(second!.x).toBe(drawing.columns[1])
    const wait = drawing.rails.find(({ step }) => step === 'w')!
    expect(wait.from).toBe(first!.x + first!.width)
    expect(wait.to).toBe(second!.x)
    expect(drawing.switches).toEqual([])
  })

  it('leaves its parent where the branch stands, and joins it where its arm is done', () => {
    const { drawing } = draw({
      ...frame,
      steps: [
        {
          kind: 'branch',
          id: 'b',
          arms: [{ label: 'yes', when, steps: [{ kind: 'send', id: 'c', email: 1 }] }],
          otherwise: { label: 'no', steps: [{ kind: 'end', id: 'stop' }] },
        },
        { kind: 'send', id: 'd', email: 1 },
      ],
    })
    const branch = drawing.tokens.find(({ step }) => step === 'b')!
    const opening = drawing.switches.filter(({ x }) => x === branch.x + branch.width / 2)
    expect(opening.map(({ lane }) => lane)).toEqual([1, 2])
    // “yes” comes back, “no” ends.
    const closing = drawing.switches.filter((each) => !opening.includes(each))
    expect(closing.map(({ lane, to }) => [lane, to])).toEqual([[1, branch.y]])
    expect(drawing.names.map(({ lane }) => lane)).toEqual([1, 2])
  })

  it('shows each step once, inside the sheet and beside the others, whatever the program', () => {
    fc.assert(
      fc.property(anyProgram(frame, when), (program) => {
        const { steps, drawing } = draw(program)
        const shown = drawing.tokens.map(({ step }) => step)
        expect(new Set(shown).size).toBe(shown.length)
        for (const { step } of drawing.tokens) expect(steps.get(step)?.kind).not.toBe('waitFor')
        for (const { x, y, width } of drawing.tokens) {
          expect(x).toBeGreaterThanOrEqual(0)
          expect(x + width).toBeLessThanOrEqual(drawing.width)
          expect(y).toBeLessThan(drawing.height)
        }
        for (const lane of new Set(drawing.tokens.map(({ y }) => y))) {
          const here = drawing.tokens.filter(({ y }) => y === lane).sort((a, b) => a.x - b.x)
          for (const [i, token] of here.entries())
            if (i > 0) expect(token.x).toBeGreaterThanOrEqual(here[i - 1]!.x + here[i - 1]!.width)
        }
        for (const { from, to } of drawing.rails) expect(to).toBeGreaterThan(from)
      }),
      { numRuns: 300 },
    )
  })

  it('leads a short lane back past the steps of a longer one above it', () => {
    const { drawing } = draw({
      ...frame,
      steps: [
        {
          kind: 'split',
          id: 'half',
          shares: [
            { label: 'with', share: 50, steps: [{ kind: 'send', id: 'more', email: 1 }] },
            { label: 'without', share: 50, steps: [] },
          ],
        },
        { kind: 'send', id: 'last', email: 1 },
      ],
    })
    const more = drawing.tokens.find(({ step }) => step === 'more')!
    const backs = drawing.switches.filter(({ to, from }) => to < from)
    expect(backs.map(({ lane }) => lane)).toEqual([1, 2])
    for (const { x } of backs) expect(x).toBeGreaterThanOrEqual(more.x + more.width)
  })
})
