<script setup lang="ts">
import { computed } from 'vue'
import type { Leaf } from '../../../core/audience/segments/condition.ts'
import { marketingStateWords, type MarketingState } from '../../../core/audience/people/permission.ts'
import type { NamedKind } from '../../../core/audience/segments/names.ts'
import FieldQuestion from './FieldQuestion.vue'
import DidQuestion from './DidQuestion.vue'
import ThingSelect from './ThingSelect.vue'
import SeveralSelect from './SeveralSelect.vue'
import TextTestInput from './TextTestInput.vue'
import WithinSelect from './WithinSelect.vue'
import { subjectOf, subjects } from './subjects.ts'
import { useVocabulary } from './vocabulary.ts'

/** One line of a condition, as a sentence of choices that reads aloud. */
const props = defineProps<{ negated: boolean }>()
const leaf = defineModel<Leaf>({ required: true })
const vocabulary = useVocabulary()

const groups = computed(() => [...new Set(subjects.map(({ group }) => group))])

function choose(id: string): void {
  const subject = subjects.find((each) => each.id === id)
  if (subject) leaf.value = subject.leaf(vocabulary.words)
}

/** The kind of thing that a line names, and its place in the line. */
const things: Partial<Record<Leaf['kind'], { kind: NamedKind; key: string }>> = {
  hasTag: { kind: 'tags', key: 'tag' },
  topic: { kind: 'topics', key: 'topic' },
  segment: { kind: 'segments', key: 'segment' },
  followup: { kind: 'followups', key: 'followup' },
  score: { kind: 'scorecards', key: 'scorecard' },
  band: { kind: 'scorecards', key: 'scorecard' },
}
const thing = computed(() => things[leaf.value.kind])
const thingId = computed(() => Number((leaf.value as Record<string, unknown>)[thing.value?.key ?? ''] ?? 0))
const bands = computed(() => vocabulary.words.scorecards[thingId.value]?.bands ?? [])

function setThing(id: number): void {
  if (!thing.value) return
  const next = { ...leaf.value, [thing.value.key]: id }
  if (next.kind === 'band') next.band = vocabulary.words.scorecards[id]?.bands.at(-1)?.id ?? next.band
  leaf.value = next
}

const numberOf = (event: Event): number | undefined => {
  const { value } = event.target as HTMLInputElement
  return value === '' ? undefined : Number(value)
}

const states = Object.entries(marketingStateWords).map(([value, title]) => ({ value, title }))
/** A state stands there as long as no other was chosen: a line that asks for none means nobody. */
function setStates(chosen: readonly string[]): void {
  const is = chosen.filter((each): each is MarketingState => each in marketingStateWords)
  if (is.length > 0) leaf.value = { kind: 'state', is }
}
const followupWords = { inside: 'inside now', finished: 'through it', ever: 'inside or through it' }
const valueOf = (event: Event): string => (event.target as HTMLSelectElement).value
</script>

<template>
  <span class="line">
    <select
      class="plain"
      aria-label="What the line is about"
      :value="subjectOf(leaf)"
      @change="choose(valueOf($event))"
    >
      <optgroup v-for="group in groups" :key="group" :label="group">
        <option v-for="each in subjects.filter((s) => s.group === group)" :key="each.id" :value="each.id">
          {{ props.negated ? each.not : each.title }}
        </option>
      </optgroup>
    </select>

    <select
      v-if="leaf.kind === 'followup'"
      class="plain"
      aria-label="Where in it"
      :value="leaf.is"
      @change="leaf = { ...leaf, is: valueOf($event) as keyof typeof followupWords }"
    >
      <option v-for="(title, value) in followupWords" :key="value" :value="value">{{ title }}</option>
    </select>
    <select
      v-if="leaf.kind === 'band'"
      class="plain"
      aria-label="Band"
      :value="leaf.band"
      @change="leaf = { ...leaf, band: valueOf($event) }"
    >
      <option v-for="band in bands" :key="band.id" :value="band.id">{{ band.name }}</option>
    </select>
    <template v-if="leaf.kind === 'band' || leaf.kind === 'score'">on</template>
    <ThingSelect v-if="thing" :kind="thing.kind" :model-value="thingId" @update:model-value="setThing" />

    <template v-if="leaf.kind === 'score'">
      of at least
      <input
        class="plain points"
        type="number"
        aria-label="At least so many points"
        :value="leaf.atLeast"
        @change="leaf = { ...leaf, atLeast: numberOf($event) }"
      />
      and below
      <input
        class="plain points"
        type="number"
        aria-label="Below so many points"
        :value="leaf.below"
        @change="leaf = { ...leaf, below: numberOf($event) }"
      />
    </template>
    <SeveralSelect
      v-if="leaf.kind === 'state'"
      label="State"
      :choices="states"
      :model-value="leaf.is"
      @update:model-value="setStates"
    />
    <WithinSelect
      v-if="leaf.kind === 'created'"
      :model-value="leaf.within"
      @update:model-value="$event && (leaf = { kind: 'created', within: $event })"
    />
    <template v-if="leaf.kind === 'source'">
      <select
        class="plain"
        aria-label="Part of the link"
        :value="leaf.name"
        @change="leaf = { ...leaf, name: valueOf($event) as 'utm_source' }"
      >
        <option
          v-for="name in ['source', 'medium', 'campaign', 'term', 'content']"
          :key="name"
          :value="`utm_${name}`"
        >
          utm_{{ name }}
        </option>
      </select>
      <TextTestInput
        :model-value="leaf.test"
        @update:model-value="
          leaf = { kind: 'source', name: (leaf as Extract<Leaf, { kind: 'source' }>).name, test: $event }
        "
      />
    </template>
    <FieldQuestion v-if="leaf.kind === 'field'" v-model="leaf" />
    <DidQuestion v-if="leaf.kind === 'did'" v-model="leaf" />
  </span>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}

.points {
  width: 76px;
}
</style>
