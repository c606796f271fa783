<script setup lang="ts">
import { mdiChevronLeft, mdiChevronRight } from '@mdi/js'
import { computed } from 'vue'
import { countOf } from '../wording.ts'

/** Steps through the pages of a list that the server cuts. */
const props = defineProps<{ total: number; size: number; what: string }>()
const page = defineModel<number>({ required: true })

const last = computed(() => Math.max(1, Math.ceil(props.total / props.size)))
const from = computed(() => (props.total === 0 ? 0 : (page.value - 1) * props.size + 1))
const to = computed(() => Math.min(props.total, page.value * props.size))
</script>

<template>
  <div class="steps">
    <span>
      <span class="figures">{{ countOf(from) }}–{{ countOf(to) }}</span> of
      <span class="figures">{{ countOf(total) }}</span> {{ what }}
    </span>
    <v-btn
      :icon="mdiChevronLeft"
      size="small"
      variant="text"
      aria-label="Previous page"
      :disabled="page <= 1"
      @click="page -= 1"
    />
    <v-btn
      :icon="mdiChevronRight"
      size="small"
      variant="text"
      aria-label="Next page"
      :disabled="page >= last"
      @click="page += 1"
    />
  </div>
</template>

<style scoped>
.steps {
  display: flex;
  align-items: center;
  justify-content: flex-end;
  gap: 8px;
  padding: 4px 8px;
}
</style>
