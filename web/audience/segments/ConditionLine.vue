<script setup lang="ts">
import { computed } from 'vue'
import { sourceName } from '../../../core/audience/people/activity.ts'
import { marketingState, marketingStateWords } from '../../../core/audience/people/permission.ts'
import type { Leaf } from '../../../core/audience/segments/condition.ts'
import InlineNumber from '../../frame/InlineNumber.vue'
import InlineSelect from '../../frame/InlineSelect.vue'
import DidQuestion from './DidQuestion.vue'
import FieldQuestion from './FieldQuestion.vue'
import SeveralSelect from './SeveralSelect.vue'
import { affirmedChoices, deniedChoices, subjectOf, subjects } from './subjects.ts'
import TextTestInput from './TextTestInput.vue'
import ThingSelect from './ThingSelect.vue'
import { useVocabulary } from './vocabulary.ts'
import WithinSelect from './WithinSelect.vue'

/** One line of a condition, as a sentence of choices that reads aloud; it begins with what it is about. */
defineProps<{ negated: boolean }>()
const leaf = defineModel<Leaf | null>({ required: true })
const vocabulary = useVocabulary()

async function choose(id: string): Promise<void> {
  const subject = subjects.find((each) => each.id === id)
  if (subject) leaf.value = subject.leaf(await vocabulary.known())
}

type Of<Kind extends Leaf['kind']> = Extract<Leaf, { kind: Kind }>

const bandsOf = (scorecard: number): { value: string; title: string }[] =>
  (vocabulary.words.scorecards[scorecard]?.bands ?? []).map(({ id, name }) => ({ value: id, title: name }))
/** Another scorecard has other bands; its hottest is what one mostly asks for. */
const setBandCard = (question: Of<'band'>, scorecard: number): void => {
  leaf.value = { ...question, scorecard, band: bandsOf(scorecard).at(-1)?.value ?? question.band }
}

const states = marketingState.options.map((value) => ({ value, title: marketingStateWords[value] }))
/** A state stands there as long as no other was chosen: a line that asks for none means nobody. */
function setStates(chosen: readonly string[]): void {
  const is = marketingState.options.filter((state) => chosen.includes(state))
  if (is.length > 0) leaf.value = { kind: 'state', is }
}

const followupWords: Record<Of<'followup'>['is'], string> = {
  inside: 'now',
  finished: 'in the past',
  ever: 'now or in the past',
}
const followupTimes = computed(() =>
  Object.entries(followupWords).map(([value, title]) => ({ value: value as Of<'followup'>['is'], title })),
)
const deadlineStates: { value: Of<'deadline'>['is']; title: string }[] = [
  { value: 'running', title: 'running' },
  { value: 'over', title: 'over' },
  { value: 'none', title: 'not begun' },
]
const sourceNames = sourceName.options.map((value) => ({ value, title: value }))
</script>

<template>
  <span class="line">
    <InlineSelect
      label="Condition"
      :items="negated ? deniedChoices : affirmedChoices"
      :model-value="leaf && subjectOf(leaf)"
      placeholder="choose a condition"
      @update:model-value="choose"
    />
    <ThingSelect
      v-if="leaf?.kind === 'hasTag'"
      kind="tags"
      :model-value="leaf.tag"
      @update:model-value="(tag) => (leaf = { kind: 'hasTag', tag })"
    />
    <ThingSelect
      v-else-if="leaf?.kind === 'topic'"
      kind="topics"
      :model-value="leaf.topic"
      @update:model-value="(topic) => (leaf = { kind: 'topic', topic })"
    />
    <ThingSelect
      v-else-if="leaf?.kind === 'agreedTo'"
      kind="wordings"
      :model-value="leaf.wording"
      @update:model-value="(wording) => (leaf = { kind: 'agreedTo', wording })"
    />
    <ThingSelect
      v-else-if="leaf?.kind === 'segment'"
      kind="segments"
      :model-value="leaf.segment"
      @update:model-value="(segment) => (leaf = { kind: 'segment', segment })"
    />
    <template v-else-if="leaf?.kind === 'followup'">
      <ThingSelect
        kind="followups"
        :model-value="leaf.followup"
        @update:model-value="(followup) => (leaf = { ...(leaf as Of<'followup'>), followup })"
      />
      <InlineSelect
        label="When"
        :items="followupTimes"
        :model-value="leaf.is"
        @update:model-value="(is) => (leaf = { ...(leaf as Of<'followup'>), is })"
      />
    </template>
    <template v-else-if="leaf?.kind === 'deadline'">
      <InlineSelect
        label="Deadline"
        :items="vocabulary.words.deadlines.map((name) => ({ value: name, title: name }))"
        :model-value="leaf.deadline"
        @update:model-value="(deadline) => (leaf = { ...(leaf as Of<'deadline'>), deadline })"
      />
      <InlineSelect
        label="State"
        :items="deadlineStates"
        :model-value="leaf.is"
        @update:model-value="(is) => (leaf = { ...(leaf as Of<'deadline'>), is })"
      />
    </template>
    <template v-else-if="leaf?.kind === 'band'">
      <InlineSelect
        label="Band"
        :items="bandsOf(leaf.scorecard)"
        :model-value="leaf.band"
        @update:model-value="(band) => (leaf = { ...(leaf as Of<'band'>), band })"
      />
      on
      <ThingSelect
        kind="scorecards"
        :model-value="leaf.scorecard"
        @update:model-value="(scorecard) => setBandCard(leaf as Of<'band'>, scorecard)"
      />
    </template>
    <template v-else-if="leaf?.kind === 'score'">
      on
      <ThingSelect
        kind="scorecards"
        :model-value="leaf.scorecard"
        @update:model-value="(scorecard) => (leaf = { ...(leaf as Of<'score'>), scorecard })"
      />
      of at least
      <InlineNumber
        label="At least"
        :precision="1"
        optional
        :model-value="leaf.atLeast ?? null"
        @update:model-value="(typed) => (leaf = { ...(leaf as Of<'score'>), atLeast: typed ?? undefined })"
      />
      and below
      <InlineNumber
        label="Below"
        :precision="1"
        optional
        :model-value="leaf.below ?? null"
        @update:model-value="(typed) => (leaf = { ...(leaf as Of<'score'>), below: typed ?? undefined })"
      />
    </template>
    <SeveralSelect
      v-else-if="leaf?.kind === 'state'"
      label="Marketing status"
      :choices="states"
      :model-value="leaf.is"
      @update:model-value="setStates"
    />
    <WithinSelect
      v-else-if="leaf?.kind === 'created'"
      :model-value="leaf.within"
      @update:model-value="(within) => within && (leaf = { kind: 'created', within })"
    />
    <template v-else-if="leaf?.kind === 'source'">
      <InlineSelect
        label="Link parameter"
        :items="sourceNames"
        :model-value="leaf.name"
        @update:model-value="(name) => (leaf = { ...(leaf as Of<'source'>), name })"
      />
      <TextTestInput
        :model-value="leaf.test"
        @update:model-value="(test) => (leaf = { ...(leaf as Of<'source'>), test })"
      />
    </template>
    <FieldQuestion v-else-if="leaf?.kind === 'field'" v-model="leaf" />
    <DidQuestion v-else-if="leaf?.kind === 'did'" v-model="leaf" />
  </span>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}
</style>
