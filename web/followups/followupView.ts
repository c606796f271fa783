import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import { describeStep } from '../../core/followups/sentences.ts'
import { allSteps } from '../../core/followups/step.ts'
import { call } from '../api.ts'
import { useVocabulary } from '../audience/segments/vocabulary.ts'
import { useLoaded } from '../loading.ts'

/** A follow-up with the steps that run, by what they are called: for the views beside its timetable. */
export function useFollowup(id: number) {
  const vocabulary = useVocabulary()
  void vocabulary.reload()
  const { data: view, problem } = useLoaded(
    (signal) => call(api.followups.view, { params: { id }, signal }),
    [],
  )
  const steps = computed(() =>
    allSteps(view.value?.live?.steps ?? []).map((step) => ({
      id: step.id,
      title: describeStep(step, vocabulary.words.names).title,
    })),
  )
  const titleOf = (step: string): string => steps.value.find((each) => each.id === step)?.title ?? step
  return { view, problem, steps, titleOf }
}
