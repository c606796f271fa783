import fc from 'fast-check'
import type { Condition } from '../core/audience/segments/condition.ts'
import type { Program, Step } from '../core/followups/program.ts'

/** Programs of any shape, with ids by their place. */
export const anyProgram = (frame: Omit<Program, 'steps'>, when: Condition): fc.Arbitrary<Program> =>
  fc
    .letrec<{ steps: Step[]; step: Step }>((tie) => ({
      steps: fc.array(tie('step'), { minLength: 1, maxLength: 4 }),
      step: fc.oneof(
        { maxDepth: 3 },
        fc.constant<Step>({ kind: 'send', id: 'x', email: 2 }),
        fc.constant<Step>({ kind: 'waitFor', id: 'x', amount: 1, unit: 'days' }),
        fc.constant<Step>({ kind: 'end', id: 'x' }),
        fc.record({
          kind: fc.constant('branch' as const),
          id: fc.constant('x'),
          arms: fc.tuple(
            fc.record({ label: fc.constant('a'), when: fc.constant(when), steps: tie('steps') }),
          ),
          otherwise: fc.record({ label: fc.constant('b'), steps: tie('steps') }),
        }),
      ),
    }))
    .steps.map((steps) => {
      let next = 0
      const number = (list: readonly Step[]): Step[] =>
        list.map((each) => {
          const id = `s${next++}`
          if (each.kind !== 'branch') return { ...each, id }
          const arms = each.arms.map((arm) => ({ ...arm, steps: number(arm.steps) }))
          return { ...each, id, arms, otherwise: { ...each.otherwise, steps: number(each.otherwise.steps) } }
        })
      return { ...frame, steps: number(steps) }
    })
