<script setup lang="ts">
import { computed } from 'vue'
import type { ShownTo } from '../../../core/blocks/kinds/blockKind.ts'
import ConditionGroup from '../../audience/segments/ConditionGroup.vue'
import { asGroup, type Group } from '../../audience/segments/subjects.ts'

/** Shows a part to some people only, and something else to the others. */
const shownTo = defineModel<ShownTo | null>({ required: true })

const some = computed({
  get: () => shownTo.value !== null,
  set: (wanted: boolean) => (shownTo.value = wanted ? { people: asGroup(null), instead: '' } : null),
})
const people = computed({
  get: () => asGroup(shownTo.value?.people ?? null),
  set: (group: Group) => shownTo.value && (shownTo.value = { ...shownTo.value, people: group }),
})
const instead = computed({
  get: () => shownTo.value?.instead ?? '',
  set: (words: string) => shownTo.value && (shownTo.value = { ...shownTo.value, instead: words }),
})
</script>

<template>
  <div class="shown">
    <v-switch v-model="some" label="Show to some people only" />
    <template v-if="shownTo">
      <p class="soft">Shown to visitors known to us who match:</p>
      <ConditionGroup v-model="people" :depth="0" />
      <v-textarea v-model="instead" label="Others see" placeholder="Nothing" />
    </template>
  </div>
</template>

<style scoped>
.shown {
  display: grid;
  gap: 8px;
}

.shown p {
  margin: 0;
}
</style>
