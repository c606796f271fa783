<script setup lang="ts" generic="Content, State extends DraftState">
import type { DraftState } from '../../contract/drafts.ts'
import type { ProblemDetails } from '../../contract/problems.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import type { Draft } from './draft.ts'

/** What an editor has to say: why something was refused, what was never saved, who has saved meanwhile. */
defineProps<{
  draft: Draft<Content, State>
  refused: ProblemDetails | null
  /** This browser wrote something that the server never got. */
  kept: boolean
}>()
defineEmits<{ bringBack: []; discard: []; reload: []; keepAsCopy: [] }>()
</script>

<template>
  <div class="notes">
    <ProblemNote :problem="refused" />
    <slot />
    <v-alert v-if="kept" type="info" title="This browser has changes that were never saved">
      <v-btn size="small" @click="$emit('bringBack')">Bring them back</v-btn>
      <v-btn size="small" variant="text" @click="$emit('discard')">Discard</v-btn>
    </v-alert>
    <v-alert v-if="draft.conflict.value" type="error" role="alert" :title="draft.problem.value?.title">
      <p>{{ draft.problem.value?.detail }}</p>
      <v-btn size="small" variant="outlined" @click="$emit('reload')">Load their version</v-btn>
      <v-btn size="small" variant="outlined" @click="draft.save(true)">Save mine over it</v-btn>
      <v-btn size="small" variant="outlined" @click="$emit('keepAsCopy')">Keep mine as a copy</v-btn>
    </v-alert>
    <ProblemNote v-else :problem="draft.problem.value" />
  </div>
</template>

<style scoped>
.notes:not(:empty) {
  display: grid;
  gap: 8px;
}
</style>
