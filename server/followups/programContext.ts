import type { ConditionContext } from '../../core/audience/segments/evaluate.ts'
import { conditionsOf, referencesOfProgram, type Program } from '../../core/followups/program.ts'
import { loadContext } from '../audience/segments/evaluationContext.ts'
import type { Queries } from '../database/connect.ts'

/** The names, segments and scorecards that programs speak of. */
export const loadProgramContext = (q: Queries, programs: readonly Program[]): Promise<ConditionContext> =>
  loadContext(q, programs.flatMap(conditionsOf), programs.flatMap(referencesOfProgram))
