<script setup lang="ts">
import { computed } from 'vue'
import type { Leaf } from '../../../core/audience/segments/condition.ts'
import InlineNumber from '../../frame/InlineNumber.vue'
import InlineSelect from '../../frame/InlineSelect.vue'
import ThingSelect from './ThingSelect.vue'
import WithinSelect from './WithinSelect.vue'
import { offered } from './activities.ts'
import { askedPart, keptPart } from './parts.ts'
import { useVocabulary } from './vocabulary.ts'

type Did = Extract<Leaf, { kind: 'did' }>

/** "… “Your template pack” at least 2 times in the last 30 days" */
const leaf = defineModel<Did>({ required: true })
const vocabulary = useVocabulary()

const about = computed(() => offered(leaf.value.activity))
const thing = computed(() => Number(leaf.value.details[about.value?.detail ?? ''] ?? 0))

const links = computed(() => {
  const { links: ofEmails, names } = vocabulary.words
  const ids = leaf.value.activity === 'emailClicked' ? (ofEmails[thing.value] ?? []) : []
  const named = ids.map((id) => ({ value: id, title: names.links[id] ?? '' }))
  return named.length > 0 ? [{ value: 0, title: 'any link' }, ...named] : []
})
const parts = computed(() => about.value?.parts?.(vocabulary.words, thing.value) ?? [])
const ways = computed(() => [
  { value: '', title: 'in any way' },
  ...Object.entries(about.value?.more?.words ?? {}).map(([value, title]) => ({ value, title })),
])

/** Asks for a detail; an empty one is not asked for. */
function set(name: string, value: string | number | string[]): void {
  const { [name]: _old, ...rest } = leaf.value.details
  leaf.value = { ...leaf.value, details: value === '' || value === 0 ? rest : { ...rest, [name]: value } }
}

/** Another thing has other parts. */
function setThing(id: number): void {
  const {
    link: _link,
    band: _band,
    rule: _rule,
    result: _result,
    answers: _answers,
    price: _price,
    ...details
  } = leaf.value.details
  leaf.value = { ...leaf.value, details }
  set(about.value?.detail ?? '', id)
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
  <InlineSelect
    v-if="links.length"
    label="Link"
    :items="links"
    :model-value="Number(leaf.details.link ?? 0)"
    @update:model-value="(link) => set('link', link)"
  />
  <InlineSelect
    v-for="part in parts"
    :key="part.detail"
    :label="part.label"
    :items="part.items"
    :model-value="askedPart(leaf.details[part.detail])"
    @update:model-value="(value) => set(part.detail, keptPart(part.detail, value))"
  />
  <InlineSelect
    v-if="about?.more"
    :label="about.more.label"
    :items="ways"
    :model-value="String(leaf.details[about.more.detail] ?? '')"
    @update:model-value="(way) => set(about?.more?.detail ?? '', way)"
  />
  at least
  <InlineNumber
    label="Times"
    :min="1"
    :model-value="leaf.atLeast"
    @update:model-value="(times) => times && (leaf = { ...leaf, atLeast: times })"
  />
  {{ leaf.atLeast === 1 ? 'time' : 'times' }}
  <WithinSelect
    optional
    :model-value="leaf.within"
    @update:model-value="(within) => (leaf = { ...leaf, within })"
  />
</template>
