<script setup lang="ts">
import { computed } from 'vue'
import type { Condition } from '../../core/audience/segments/condition.ts'
import ConditionGroup from '../audience/segments/ConditionGroup.vue'
import { asGroup } from '../audience/segments/subjects.ts'

/** A step for some people only; the others go on without it, and the journal says why. */
const onlyIf = defineModel<Condition | undefined>({ required: true })
const isLimited = computed({
  get: () => onlyIf.value !== undefined,
  set: (wanted: boolean) => (onlyIf.value = wanted ? asGroup(null) : undefined),
})
</script>

<template>
  <div class="only">
    <v-switch v-model="isLimited" label="Only for some people" />
    <ConditionGroup
      v-if="onlyIf"
      :model-value="asGroup(onlyIf)"
      :depth="0"
      @update:model-value="(next) => (onlyIf = next)"
    />
  </div>
</template>

<style scoped>
.only {
  justify-self: stretch;
}
</style>
