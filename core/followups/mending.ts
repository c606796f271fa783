import { removeStep } from './editing.ts'
import type { Mend } from './finding.ts'
import type { Program } from './program.ts'
import { allSteps } from './step.ts'

/** A program that is put right; null when what was meant is gone. Emails are published elsewhere. */
export function mendProgram(program: Program, mend: Exclude<Mend, { does: 'publishEmail' }>): Program | null {
  switch (mend.does) {
    case 'removeStep':
      return allSteps(program.steps).some(({ id }) => id === mend.step)
        ? { ...program, steps: removeStep(program.steps, mend.step) }
        : null
    case 'leaveAtPurchase':
      return { ...program, leavesWhen: [...program.leavesWhen, { when: { kind: 'productBought' } }] }
  }
}
