<script setup lang="ts">
import { onMounted, shallowRef, ref } from 'vue'
import { api } from '../../contract/api.ts'
import type { PageView } from '../../contract/pages.ts'
import type { ProblemDetails } from '../../contract/problems.ts'
import { call, problemOf } from '../api.ts'
import { useVocabulary } from '../audience/segments/vocabulary.ts'
import { useSite } from '../blocks/site.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import PageDesk from './PageDesk.vue'

/** Opens a page to be edited, with all that the editor draws and chooses from. */
const props = defineProps<{ id: number }>()
const view = shallowRef<PageView | null>(null)
const problem = ref<ProblemDetails | null>(null)
/** A page that was loaded again is edited anew. */
const edition = ref(0)
const library = useSite()

async function load(): Promise<void> {
  try {
    const [loaded] = await Promise.all([
      call(api.pages.view, { params: { id: props.id } }),
      library.reload(),
      useVocabulary().reload(),
    ])
    view.value = loaded
    edition.value += 1
  } catch (error) {
    problem.value = problemOf(error)
  }
}
onMounted(load)
</script>

<template>
  <PageDesk v-if="view && library.site" :key="edition" :view="view" :site="library.site" @reload="load" />
  <div v-else class="screen">
    <h1>Page</h1>
    <ProblemNote :problem="problem" />
    <p v-if="!problem" class="soft">Loading…</p>
  </div>
</template>
