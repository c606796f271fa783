import { onMounted, ref, shallowRef } from 'vue'
import type { ProblemDetails } from '../../contract/problems.ts'
import { problemOf } from '../api.ts'
import { useVocabulary } from '../audience/segments/vocabulary.ts'
import { useSite } from './site.ts'

/**
 * Opens a thing of the Library to be edited, with all that its editor draws and chooses from.
 * @param load asks for the thing
 */
export function useOpenThing<View>(load: () => Promise<View>) {
  const view = shallowRef<View | null>(null)
  const problem = ref<ProblemDetails | null>(null)
  /** What was loaded again is edited anew. */
  const edition = ref(0)
  const library = useSite()

  async function reload(): Promise<void> {
    try {
      const [loaded] = await Promise.all([load(), library.reload(), useVocabulary().reload()])
      view.value = loaded
      edition.value += 1
    } catch (error) {
      problem.value = problemOf(error)
    }
  }
  onMounted(reload)
  return { view, problem, edition, library, reload }
}
