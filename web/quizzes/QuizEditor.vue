<script setup lang="ts">
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import OpeningNote from '../blocks/OpeningNote.vue'
import { useOpenThing } from '../blocks/openThing.ts'
import QuizDesk from './QuizDesk.vue'

/** Opens a quiz to be edited, with all that the editor draws and chooses from. */
const props = defineProps<{ id: number }>()
const { view, problem, edition, library, reload } = useOpenThing(() =>
  call(api.quizzes.view, { params: { id: props.id } }),
)
</script>

<template>
  <QuizDesk v-if="view && library.site" :key="edition" :view="view" :site="library.site" @reload="reload" />
  <OpeningNote v-else title="Quiz" :problem="problem" />
</template>
