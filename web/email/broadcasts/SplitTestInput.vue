<script setup lang="ts">
import { computed } from 'vue'
import type { SplitTest, Variant } from '../../../contract/broadcasts.ts'
import { leastDifference, wantedPower } from '../../../core/email/splitTest.ts'
import { countOf } from '../../wording.ts'

/** Tries two to four versions on a share of the readers before the rest gets one of them. */
const props = defineProps<{
  emails: readonly { id: number; name: string }[]
  /** How many people get the broadcast in all; null while that is not known. */
  gets: number | null
  /** The share of emails that are usually opened; null when nothing is known of that. */
  openRate: number | null
}>()
const test = defineModel<SplitTest | null>({ required: true })

const empty = (): Variant => ({ email: null, subject: '', senderName: '' })
const on = computed({
  get: () => test.value !== null,
  set: (wanted) => {
    test.value = wanted ? { variants: [empty()], share: 30, by: 'opens', afterHours: 4, itself: true } : null
  },
})
const measures = [
  { value: 'opens', title: 'opened by most people' },
  { value: 'clicks', title: 'clicked by most people' },
  { value: 'signUps', title: 'followed by most forms sent' },
]
const letters = ['A', 'B', 'C', 'D']

function change(given: Partial<SplitTest>): void {
  if (test.value) test.value = { ...test.value, ...given }
}
function changeVariant(n: number, given: Partial<Variant>): void {
  change({
    variants: (test.value?.variants ?? []).map((each, i) => (i === n ? { ...each, ...given } : each)),
  })
}

/** What is assumed where nothing is known yet. */
const assumedRate = 0.2
/** What such a test can show, before it is sent. */
const shows = computed(() => {
  if (!test.value || props.gets === null) return ''
  const groups = test.value.variants.length + 1
  const size = Math.floor((props.gets * test.value.share) / 100 / groups)
  const rate = props.openRate ?? assumedRate
  const points = size > 0 ? leastDifference(size, rate) : null
  const assuming = `when ${Math.round(rate * 100)} of 100 open${props.openRate === null ? ' (assumed)' : ''}`
  const people = `${countOf(size)} people get each version`
  if (points === null)
    return `${people}: too few to see any difference. Choose a greater share, or send without a test.`
  return `${people}: a difference of ${(points * 100).toFixed(0)} points would be seen in ${wantedPower * 100} of 100 cases, ${assuming}.`
})
</script>

<template>
  <v-switch v-model="on" label="Try different versions on some of them first" hide-details />
  <div v-if="test" class="test">
    <p class="soft">Version A is the email as it is. Leave empty what a version does not change.</p>
    <fieldset v-for="(each, n) in test.variants" :key="n" class="variant">
      <legend>Version {{ letters[n + 1] }}</legend>
      <v-text-field
        :model-value="each.subject"
        label="Subject"
        hide-details
        @update:model-value="(subject: string) => changeVariant(n, { subject })"
      />
      <v-text-field
        :model-value="each.senderName"
        label="Sender’s name"
        hide-details
        @update:model-value="(senderName: string) => changeVariant(n, { senderName })"
      />
      <v-autocomplete
        :model-value="each.email"
        label="Another email"
        :items="emails"
        item-title="name"
        item-value="id"
        clearable
        hide-details
        @update:model-value="(email: number | null) => changeVariant(n, { email })"
      />
      <v-btn
        v-if="test.variants.length > 1"
        variant="text"
        size="small"
        @click="change({ variants: test.variants.filter((_, i) => i !== n) })"
      >
        Remove version {{ letters[n + 1] }}
      </v-btn>
    </fieldset>
    <v-btn
      v-if="test.variants.length < 3"
      variant="outlined"
      size="small"
      @click="change({ variants: [...test.variants, empty()] })"
    >
      Add a version
    </v-btn>
    <div class="rule">
      <v-number-input
        :model-value="test.share"
        label="Percent who get a version first"
        :min="2"
        :max="100"
        control-variant="stacked"
        @update:model-value="(share: number) => change({ share })"
      />
      <v-number-input
        :model-value="test.afterHours"
        label="Hours until it is decided"
        :min="1"
        :max="168"
        control-variant="stacked"
        @update:model-value="(afterHours: number) => change({ afterHours })"
      />
      <v-select
        :model-value="test.by"
        label="The best is the one"
        :items="measures"
        @update:model-value="(by: SplitTest['by']) => change({ by })"
      />
    </div>
    <v-checkbox
      :model-value="test.itself"
      label="Send the rest the best one by itself"
      hide-details
      @update:model-value="(itself: boolean | null) => change({ itself: itself === true })"
    />
    <p v-if="shows" role="status">{{ shows }}</p>
  </div>
</template>

<style scoped>
.test,
.variant {
  display: grid;
  gap: 12px;
  justify-items: start;
}

.test > *,
.variant > .v-input {
  width: 100%;
}

.test > .v-btn {
  width: auto;
}

.variant {
  padding: 12px;
  border: 1px solid var(--rule);
  border-radius: 4px;
}

.variant legend {
  padding: 0 4px;
  font-weight: 600;
}

.rule {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 12px;
}

p {
  margin: 0;
}
</style>
