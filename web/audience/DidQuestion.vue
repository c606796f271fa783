<script setup lang="ts">
import { computed } from 'vue'
import type { Leaf } from '../../core/audience/condition.ts'
import ThingSelect from './ThingSelect.vue'
import WithinSelect from './WithinSelect.vue'
import { activities } from './subjects.ts'

type Did = Extract<Leaf, { kind: 'did' }>

/** "… “Your template pack” at least 2 times in the last 30 days" */
const leaf = defineModel<Did>({ required: true })

const about = computed(() => activities.find(({ kind }) => kind === leaf.value.activity))
const thing = computed(() => Number(leaf.value.details[about.value?.detail ?? ''] ?? 0))

function setThing(id: number): void {
  const name = about.value?.detail
  if (!name) return
  const { [name]: _old, ...rest } = leaf.value.details
  leaf.value = { ...leaf.value, details: id === 0 ? rest : { ...rest, [name]: id } }
}

function setResult(result: string): void {
  const { result: _old, ...rest } = leaf.value.details
  leaf.value = { ...leaf.value, details: result === '' ? rest : { ...rest, result } }
}

function setTimes(event: Event): void {
  const times = Number((event.target as HTMLInputElement).value)
  if (Number.isInteger(times) && times > 0) leaf.value = { ...leaf.value, atLeast: times }
}
</script>

<template>
  <ThingSelect
    v-if="about?.things"
    :kind="about.things"
    any="any"
    :model-value="thing"
    @update:model-value="setThing"
  />
  <label v-if="leaf.activity === 'quizFinished'">
    with the result
    <input
      class="plain"
      placeholder="any"
      :value="leaf.details.result ?? ''"
      @change="setResult(($event.target as HTMLInputElement).value.trim())"
    />
  </label>
  at least
  <input
    class="plain times"
    type="number"
    min="1"
    aria-label="Times"
    :value="leaf.atLeast"
    @change="setTimes"
  />
  {{ leaf.atLeast === 1 ? 'time' : 'times' }}
  <WithinSelect
    ever="ever"
    :model-value="leaf.within"
    @update:model-value="leaf = { ...leaf, within: $event }"
  />
</template>

<style scoped>
.times {
  width: 56px;
}
</style>
