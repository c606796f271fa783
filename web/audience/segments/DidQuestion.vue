<script setup lang="ts">
import { computed } from 'vue'
import type { Leaf } from '../../../core/audience/segments/condition.ts'
import ThingSelect from './ThingSelect.vue'
import WithinSelect from './WithinSelect.vue'
import { offered } from './activities.ts'
import { useVocabulary } from './vocabulary.ts'

type Did = Extract<Leaf, { kind: 'did' }>

/** "… “Your template pack” at least 2 times in the last 30 days" */
const leaf = defineModel<Did>({ required: true })
const vocabulary = useVocabulary()

const about = computed(() => offered(leaf.value.activity))
const thing = computed(() => Number(leaf.value.details[about.value?.detail ?? ''] ?? 0))
const links = computed(() =>
  leaf.value.activity === 'emailClicked' ? (vocabulary.words.links[thing.value] ?? []) : [],
)
const bands = computed(() =>
  about.value?.things === 'scorecards' ? (vocabulary.words.scorecards[thing.value]?.bands ?? []) : [],
)

/** Asks for a detail; an empty one is not asked for. */
function set(name: string, value: string | number): void {
  const { [name]: _old, ...rest } = leaf.value.details
  leaf.value = { ...leaf.value, details: value === '' || value === 0 ? rest : { ...rest, [name]: value } }
}

/** Another thing has other links and bands. */
function setThing(id: number): void {
  const { link: _link, band: _band, ...details } = leaf.value.details
  leaf.value = { ...leaf.value, details }
  set(about.value?.detail ?? '', id)
}

const valueOf = (event: Event): string => (event.target as HTMLInputElement).value.trim()

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
  <select
    v-if="links.length"
    class="plain"
    aria-label="Which link"
    :value="leaf.details.link ?? 0"
    @change="set('link', Number(valueOf($event)))"
  >
    <option :value="0">any link</option>
    <option v-for="id in links" :key="id" :value="id">{{ vocabulary.words.names.links[id] }}</option>
  </select>
  <select
    v-if="bands.length"
    class="plain"
    aria-label="Which band"
    :value="leaf.details.band ?? ''"
    @change="set('band', valueOf($event))"
  >
    <option value="">any band</option>
    <option v-for="band in bands" :key="band.id" :value="band.id">{{ band.name }}</option>
  </select>
  <select
    v-if="about?.more"
    class="plain"
    :aria-label="about.more.label"
    :value="leaf.details[about.more.detail] ?? ''"
    @change="set(about.more.detail, valueOf($event))"
  >
    <option value="">in any way</option>
    <option v-for="(title, value) in about.more.words" :key="value" :value="value">{{ title }}</option>
  </select>
  <label v-if="leaf.activity === 'quizFinished'">
    with the result
    <input
      class="plain"
      placeholder="any"
      :value="leaf.details.result ?? ''"
      @change="set('result', valueOf($event))"
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
