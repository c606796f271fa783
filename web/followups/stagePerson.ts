import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import { useLoaded } from '../loading.ts'
import { useStageClock } from './stageClock.ts'

/** Somebody in rehearsal with what is before them, what comes next for them, and their clock. */
export function useStagePerson(id: number) {
  const params = { id }
  const subjects = ['audience', 'followups', 'email', 'pages'] as const
  const { data: person, problem } = useLoaded((signal) => call(api.people.view, { params, signal }), subjects)
  const { data: stage, problem: notShown } = useLoaded(
    (signal) => call(api.people.stage, { params, signal }),
    subjects,
  )
  const { data: enrolments } = useLoaded(
    (signal) => call(api.people.enrolments, { params, signal }),
    subjects,
  )
  return {
    person,
    stage,
    problem: computed(() => problem.value ?? notShown.value),
    inside: computed(() => (enrolments.value ?? []).filter(({ endedAt }) => endedAt === null)),
    clock: useStageClock(id),
  }
}
