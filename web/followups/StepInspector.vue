<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { FollowupDraft, StepNumbers } from '../../contract/followups.ts'
import type { Names } from '../../core/audience/segments/names.ts'
import type { Mend } from '../../core/followups/finding.ts'
import { describeStep } from '../../core/followups/sentences.ts'
import { isWait, type Step } from '../../core/followups/step.ts'
import ThingSelect from '../audience/segments/ThingSelect.vue'
import { useVocabulary } from '../audience/segments/vocabulary.ts'
import InlineNumber from '../frame/InlineNumber.vue'
import InlineSelect from '../frame/InlineSelect.vue'
import LanesInput from './LanesInput.vue'
import OnlyIfInput from './OnlyIfInput.vue'
import SpanInput from './SpanInput.vue'
import StepNumbersTable from './StepNumbersTable.vue'
import WaitInput from './WaitInput.vue'
import { waitSentence } from './waitSentences.ts'

/** What can be set about a step, what the check has to say of it, and how it went. */
const props = defineProps<{
  names: Names
  numbers: StepNumbers | null
  findings: FollowupDraft['findings']
  /** Where in time the step stands, for examples. */
  at: { zone: string; now: number; elapsed: number }
  webhookSecret: string
  busy: boolean
}>()
const emit = defineEmits<{ mend: [mend: Mend]; newEmail: []; remove: [] }>()
const step = defineModel<Step>({ required: true })
const route = useRoute()
const vocabulary = useVocabulary()

const words = computed(() => describeStep(step.value, props.names))
const example = computed(() => (isWait(step.value) ? waitSentence(step.value, props.names, props.at) : null))
const own = computed(() => props.findings.filter(({ part }) => part === step.value.id))
const mendWords: Record<Mend['does'], string> = {
  publishEmail: 'Publish this email',
  removeStep: 'Remove this step',
  leaveAtPurchase: 'Leave at purchase',
}
const set = (given: object): void => {
  step.value = { ...step.value, ...given } as Step
}
const fullItems = [
  { title: 'goes on the next day that has room', value: 'move' as const },
  { title: 'is left out', value: 'skip' as const },
]
const isAddress = (url: string): boolean => URL.canParse(url)
</script>

<template>
  <div class="step">
    <h2>{{ words.title }}</h2>
    <v-alert
      v-for="(finding, i) in own"
      :key="i"
      :type="finding.level === 'error' ? 'error' : 'info'"
      density="compact"
    >
      {{ finding.words }}.
      <v-btn
        v-if="finding.mend"
        size="small"
        variant="outlined"
        :loading="busy"
        @click="emit('mend', finding.mend)"
      >
        {{ mendWords[finding.mend.does] }}
      </v-btn>
    </v-alert>

    <p class="soft" aria-live="polite">{{ example ?? words.detail }}</p>
    <WaitInput v-if="isWait(step)" :model-value="step" @update:model-value="(next) => (step = next)" />
    <template v-if="step.kind === 'send'">
      <p class="line">
        Send
        <ThingSelect
          kind="emails"
          :model-value="step.email"
          @update:model-value="(email: number) => set({ email })"
        />
      </p>
      <p class="line">
        <v-btn
          size="small"
          variant="outlined"
          :to="{ path: `/library/emails/${step.email}`, query: { back: route.path } }"
        >
          Edit this email
        </v-btn>
        <v-btn size="small" variant="text" @click="emit('newEmail')">New email for this step</v-btn>
      </p>
      <p class="line">
        When the day is full it
        <InlineSelect
          label="When the day is full"
          :items="fullItems"
          :model-value="step.whenFull ?? 'move'"
          @update:model-value="(whenFull) => set({ whenFull })"
        />
      </p>
    </template>
    <v-textarea
      v-if="step.kind === 'sendText'"
      :model-value="step.text"
      label="Text"
      rows="3"
      counter="480"
      hint="Text messages are not set up yet: this step is passed over until they are."
      persistent-hint
      @update:model-value="(text: string) => text.trim() && set({ text })"
    />
    <v-textarea
      v-if="step.kind === 'notifyTeam'"
      :model-value="step.words"
      label="What the team is told"
      rows="3"
      @update:model-value="(said: string) => said.trim() && set({ words: said })"
    />
    <OnlyIfInput
      v-if="step.kind === 'send' || step.kind === 'sendText' || step.kind === 'notifyTeam'"
      :model-value="step.onlyIf"
      @update:model-value="(onlyIf) => set({ onlyIf })"
    />

    <LanesInput
      v-if="step.kind === 'branch' || step.kind === 'split' || step.kind === 'waitUntil'"
      :model-value="step"
      @update:model-value="(next) => (step = next)"
    />

    <p v-if="step.kind === 'addTag' || step.kind === 'removeTag'" class="line">
      {{ step.kind === 'addTag' ? 'Add' : 'Remove' }} the tag
      <ThingSelect kind="tags" :model-value="step.tag" @update:model-value="(tag: number) => set({ tag })" />
    </p>
    <p v-if="step.kind === 'joinTopic' || step.kind === 'leaveTopic'" class="line">
      {{ step.kind === 'joinTopic' ? 'Join' : 'Leave' }} the topic
      <ThingSelect
        kind="topics"
        :model-value="step.topic"
        @update:model-value="(topic: number) => set({ topic })"
      />
    </p>
    <p v-if="step.kind === 'startFollowup' || step.kind === 'leaveFollowup'" class="line">
      {{ step.kind === 'startFollowup' ? 'Start' : 'Leave' }}
      <ThingSelect
        kind="followups"
        :model-value="step.followup"
        @update:model-value="(followup: number) => set({ followup })"
      />
    </p>
    <template v-if="step.kind === 'setField'">
      <p class="line">
        Set
        <ThingSelect
          kind="fields"
          :model-value="step.field"
          @update:model-value="(field: number) => set({ field })"
        />
      </p>
      <v-text-field
        :model-value="step.value"
        label="Value"
        @update:model-value="(value: string) => set({ value })"
      />
    </template>
    <p v-if="step.kind === 'givePoints'" class="line">
      Give
      <InlineNumber
        label="Points"
        :model-value="step.points"
        @update:model-value="(points) => points !== null && set({ points })"
      />
      points in
      <ThingSelect
        kind="scorecards"
        :model-value="step.scorecard"
        @update:model-value="(scorecard: number) => set({ scorecard })"
      />
    </p>
    <template v-if="step.kind === 'startDeadline'">
      <v-combobox
        :model-value="step.offer"
        label="Deadline"
        :items="vocabulary.words.deadlines"
        hint="The first one of each person stays."
        persistent-hint
        @update:model-value="(offer: string | null) => offer?.trim() && set({ offer })"
      />
      <p class="line">
        It lasts
        <SpanInput
          label="How long it lasts"
          :model-value="step.lasts"
          @update:model-value="(lasts) => set({ lasts })"
        />
      </p>
    </template>
    <v-combobox
      v-if="step.kind === 'makeCoupon'"
      :model-value="step.coupon"
      label="Coupon"
      :items="vocabulary.words.coupons"
      hint="Emails say the code as {coupon code}; the link to their cart brings it along."
      persistent-hint
      @update:model-value="(coupon: string | null) => coupon?.trim() && set({ coupon })"
    />
    <template v-if="step.kind === 'webhook'">
      <v-text-field
        :model-value="step.url"
        label="Address"
        @update:model-value="(url: string) => isAddress(url) && set({ url })"
      />
      <p class="soft">
        Signed with <code>{{ webhookSecret }}</code>, as Standard Webhooks are.
      </p>
    </template>
    <v-text-field
      v-if="step.kind === 'milestone'"
      :model-value="step.name"
      label="Name"
      @update:model-value="(name: string) => name.trim() && set({ name })"
    />

    <StepNumbersTable v-if="numbers" :numbers="numbers" :is-send="step.kind === 'send'" />
    <p v-else class="soft">Nobody has reached this step yet.</p>
    <v-btn size="small" variant="text" color="error" @click="emit('remove')">Remove this step</v-btn>
  </div>
</template>

<style scoped>
.step {
  display: grid;
  gap: 12px;
  justify-items: start;
}

.step > .v-input,
.step > .v-alert,
.step > .v-table {
  justify-self: stretch;
}

.step p {
  margin: 0;
}

.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}

.line .v-text-field:not(.inline) {
  min-width: 180px;
}

code {
  word-break: break-all;
}
</style>
