<script setup lang="ts">
import type { Pages } from '../paging.ts'
import { countOf } from '../wording.ts'

/** Steps through a list that the server cuts into pages. */
defineProps<{ pages: Pages; shown: number; next: string | null }>()
</script>

<template>
  <div class="steps">
    <span class="figures">{{ countOf(pages.first.value) }}–{{ countOf(pages.first.value + shown - 1) }}</span>
    <v-btn size="small" variant="text" :disabled="!pages.hasPrevious.value" @click="pages.previous">
      Previous
    </v-btn>
    <v-btn size="small" variant="text" :disabled="!next" @click="pages.next(next)">Next</v-btn>
  </div>
</template>

<style scoped>
.steps {
  display: flex;
  align-items: center;
  justify-content: flex-end;
  gap: 8px;
  padding: 4px 16px;
}
</style>
