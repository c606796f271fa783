<script setup lang="ts">
import { computed } from 'vue'
import type { StartKind, StartRule } from '../../core/followups/start.ts'
import ThingSelect from '../audience/segments/ThingSelect.vue'
import { askedPart, keptPart, quizPartsOf, rulesOf, type PartChoice } from '../audience/segments/parts.ts'
import { useVocabulary } from '../audience/segments/vocabulary.ts'
import InlineNumber from '../frame/InlineNumber.vue'
import InlineSelect from '../frame/InlineSelect.vue'
import { startKinds } from './ruleKinds.ts'
import TimeInput from './TimeInput.vue'

/** Something by which people come in or leave, as a sentence whose parts one changes. */
const props = defineProps<{ kinds: readonly StartKind[] }>()
const rule = defineModel<StartRule>({ required: true })
const vocabulary = useVocabulary()

/** What cannot be chosen yet, since what it names does not exist, is left out. */
const items = computed(() =>
  props.kinds
    .filter((kind) => kind === rule.value.kind || startKinds[kind].fresh(vocabulary.words) !== null)
    .map((kind) => ({ title: startKinds[kind].title, value: kind })),
)
function choose(kind: StartKind): void {
  const fresh = startKinds[kind].fresh(vocabulary.words)
  if (fresh) rule.value = fresh
}
const detailOf = (name: string): number => {
  const value = (rule.value as unknown as Record<string, unknown>)[name]
  return typeof value === 'number' ? value : 0
}
/** Another thing has other parts. */
function setDetail(name: string, id: number): void {
  const {
    [name]: _old,
    result: _result,
    answers: _answers,
    rule: _rule,
    ...rest
  } = rule.value as unknown as Record<string, unknown>
  rule.value = { ...rest, ...(id !== 0 && { [name]: id }) } as unknown as StartRule
}
const bands = computed(() => {
  const of = rule.value
  const card = of.kind === 'bandReached' ? vocabulary.words.scorecards[of.scorecard] : undefined
  return (card?.bands ?? []).map(({ id, name }) => ({ title: name, value: id }))
})
const parts = computed(() => {
  const of = rule.value
  if (of.kind === 'quizFinished') return quizPartsOf(vocabulary.words, of.quiz ?? 0)
  if (of.kind === 'junctionPassed') return rulesOf(vocabulary.words, of.junction ?? 0)
  return []
})
const partOf = (detail: string): string =>
  askedPart((rule.value as unknown as Record<string, unknown>)[detail])
function setPart(detail: PartChoice['detail'], value: string): void {
  const { [detail]: _old, ...rest } = rule.value as unknown as Record<string, unknown>
  rule.value = { ...rest, ...(value !== '' && { [detail]: keptPart(detail, value) }) } as unknown as StartRule
}
const sides = [
  { title: 'before', value: 'before' as const },
  { title: 'after', value: 'after' as const },
]
const every = [
  { title: 'every year', value: 'year' as const },
  { title: 'once', value: 'once' as const },
]
</script>

<template>
  <p class="rule">
    <InlineSelect label="What happens" :items="items" :model-value="rule.kind" @update:model-value="choose" />
    <ThingSelect
      v-for="detail in startKinds[rule.kind].details"
      :key="`${rule.kind} ${detail.name}`"
      :kind="detail.kind"
      :any="detail.any"
      :model-value="detailOf(detail.name)"
      @update:model-value="(id: number) => setDetail(detail.name, id)"
    />
    <InlineSelect
      v-for="part in parts"
      :key="part.detail"
      :label="part.label"
      :items="part.items"
      :model-value="partOf(part.detail)"
      @update:model-value="(value) => setPart(part.detail, value)"
    />
    <InlineSelect
      v-if="rule.kind === 'bandReached'"
      label="Band"
      :items="bands"
      :model-value="rule.band"
      @update:model-value="(band) => (rule = { ...rule, band } as StartRule)"
    />
    <template v-if="rule.kind === 'dateComes'">
      <InlineNumber
        label="Days"
        :min="0"
        :model-value="rule.days"
        @update:model-value="(days) => days !== null && (rule = { ...rule, days } as StartRule)"
      />
      days
      <InlineSelect
        label="Before or after"
        :items="sides"
        :model-value="rule.side"
        @update:model-value="(side) => (rule = { ...rule, side } as StartRule)"
      />
      it, at
      <TimeInput
        label="Time"
        :model-value="rule.time"
        @update:model-value="(time) => (rule = { ...rule, time } as StartRule)"
      />
      <InlineSelect
        label="How often"
        :items="every"
        :model-value="rule.every"
        @update:model-value="(often) => (rule = { ...rule, every: often } as StartRule)"
      />
      <span class="soft">Who was born on 29 February has the 28th in common years.</span>
    </template>
    <v-text-field
      v-if="rule.kind === 'eventReported'"
      :model-value="rule.name"
      class="inline"
      aria-label="Name of the event"
      @update:model-value="(name: string) => name.trim() && (rule = { ...rule, name } as StartRule)"
    />
  </p>
</template>

<style scoped>
.rule {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  margin: 0;
}
</style>
