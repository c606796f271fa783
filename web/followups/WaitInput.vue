<script setup lang="ts">
import { computed } from 'vue'
import type { WaitStep } from '../../core/followups/step.ts'
import type { Clocks, WaitRelative } from '../../core/followups/waitShapes.ts'
import ConditionGroup from '../audience/segments/ConditionGroup.vue'
import { asGroup } from '../audience/segments/subjects.ts'
import ThingSelect from '../audience/segments/ThingSelect.vue'
import { useVocabulary } from '../audience/segments/vocabulary.ts'
import DayInput from '../frame/DayInput.vue'
import InlineNumber from '../frame/InlineNumber.vue'
import InlineSelect from '../frame/InlineSelect.vue'
import SpanInput from './SpanInput.vue'
import TimeInput from './TimeInput.vue'

/** What is waited for, as a sentence whose parts one changes. */
const step = defineModel<WaitStep>({ required: true })
const vocabulary = useVocabulary()

const clocksItems: { title: string; value: Clocks }[] = [
  { title: 'by the follow-up’s clock', value: 'followup' },
  { title: 'in the reader’s own zone', value: 'person' },
]
const weekdays = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'].map(
  (title, i) => ({ title, value: i + 1 }),
)
const sides = [
  { title: 'before', value: 'before' as const },
  { title: 'after', value: 'after' as const },
]
const references: { title: string; value: WaitRelative['to']['what'] }[] = [
  { title: 'the session of their start', value: 'session' },
  { title: 'a date in a field', value: 'field' },
  { title: 'a personal deadline', value: 'deadline' },
]
const firstDate = computed(
  () =>
    vocabulary.words.fields.find(({ kind }) => kind === 'date')?.id ?? vocabulary.words.fields[0]?.id ?? 1,
)
const referTo: { [K in WaitRelative['to']['what']]: () => WaitRelative['to'] } = {
  session: () => ({ what: 'session' }),
  field: () => ({ what: 'field', field: firstDate.value, time: '09:00' }),
  deadline: () => ({ what: 'deadline', offer: 'Introductory price' }),
}
function setDate(part: { field?: number; time?: string }): void {
  const of = step.value
  if (of.kind === 'waitRelative' && of.to.what === 'field') step.value = { ...of, to: { ...of.to, ...part } }
}
const pasts = [
  { title: 'skip what comes before the next wait', value: 'skip' as const },
  { title: 'go on', value: 'goOn' as const },
]
const pastDates = [
  { title: 'go on', value: 'goOn' as const },
  { title: 'leave', value: 'leave' as const },
]
</script>

<template>
  <div class="wait">
    <p v-if="step.kind === 'waitFor'" class="sentence">
      Wait
      <SpanInput
        label="How long"
        :model-value="step"
        @update:model-value="(span) => (step = { ...step, ...span } as WaitStep)"
      />
      from the step before
    </p>
    <p v-else-if="step.kind === 'waitDay'" class="sentence">
      Wait until day
      <InlineNumber
        label="Day"
        :model-value="step.day"
        :min="0"
        @update:model-value="(day) => day !== null && (step = { ...step, day } as WaitStep)"
      />
      after the start, at
      <TimeInput
        :model-value="step.time ?? ''"
        label="Time"
        optional
        @update:model-value="(time) => (step = { ...step, time: time || undefined } as WaitStep)"
      />
    </p>
    <template v-else-if="step.kind === 'waitTime'">
      <v-select
        :model-value="step.weekdays"
        label="Wait until it is"
        :items="weekdays"
        multiple
        chips
        @update:model-value="
          (days: number[]) => days.length && (step = { ...step, weekdays: days } as WaitStep)
        "
      />
      <p class="sentence">
        between
        <TimeInput
          :model-value="step.from"
          label="From"
          @update:model-value="(from) => (step = { ...step, from } as WaitStep)"
        />
        and
        <TimeInput
          :model-value="step.to"
          label="To"
          @update:model-value="(to) => (step = { ...step, to } as WaitStep)"
        />
      </p>
    </template>
    <template v-else-if="step.kind === 'waitDate'">
      <DayInput
        :model-value="step.date"
        label="Wait until"
        @update:model-value="(date: string | null) => date && (step = { ...step, date } as WaitStep)"
      />
      <p class="sentence">
        at
        <TimeInput
          :model-value="step.time"
          label="Time"
          @update:model-value="(time) => (step = { ...step, time } as WaitStep)"
        />
        . If it has passed,
        <InlineSelect
          label="If it has passed"
          :items="pastDates"
          :model-value="step.past"
          @update:model-value="(past) => (step = { ...step, past } as WaitStep)"
        />
      </p>
    </template>
    <template v-else-if="step.kind === 'waitRelative'">
      <p class="sentence">
        Wait until
        <SpanInput
          label="How long"
          :model-value="step"
          :least="0"
          @update:model-value="(span) => (step = { ...step, ...span } as WaitStep)"
        />
        <InlineSelect
          label="Before or after"
          :items="sides"
          :model-value="step.side"
          @update:model-value="(side) => (step = { ...step, side } as WaitStep)"
        />
        <InlineSelect
          label="What"
          :items="references"
          :model-value="step.to.what"
          @update:model-value="(what) => (step = { ...step, to: referTo[what]() } as WaitStep)"
        />
        <template v-if="step.to.what === 'field'">
          <ThingSelect
            :model-value="step.to.field"
            kind="fields"
            @update:model-value="(field: number) => setDate({ field })"
          />
          at
          <TimeInput
            :model-value="step.to.time"
            label="Time"
            @update:model-value="(time) => setDate({ time })"
          />
        </template>
      </p>
      <v-combobox
        v-if="step.to.what === 'deadline'"
        :model-value="step.to.offer"
        label="Deadline"
        :items="vocabulary.words.deadlines"
        @update:model-value="
          (offer: string | null) =>
            offer?.trim() && (step = { ...step, to: { what: 'deadline', offer } } as WaitStep)
        "
      />
      <p class="sentence">
        If that has passed,
        <InlineSelect
          label="If that has passed"
          :items="pasts"
          :model-value="step.past"
          @update:model-value="(past) => (step = { ...step, past } as WaitStep)"
        />
      </p>
    </template>
    <template v-else>
      <p>Wait until this is true:</p>
      <ConditionGroup
        :model-value="asGroup(step.when)"
        :depth="0"
        @update:model-value="(when) => (step = { ...step, when } as WaitStep)"
      />
      <p class="sentence">
        but no longer than
        <SpanInput
          label="At most"
          :model-value="step.atMost"
          @update:model-value="(atMost) => (step = { ...step, atMost } as WaitStep)"
        />
      </p>
    </template>
    <v-select
      v-if="step.kind === 'waitFor' || step.kind === 'waitDay' || step.kind === 'waitTime'"
      :model-value="step.clocks ?? 'followup'"
      label="Whose clocks"
      :items="clocksItems"
      @update:model-value="(clocks: Clocks) => (step = { ...step, clocks } as WaitStep)"
    />
  </div>
</template>

<style scoped>
.wait {
  display: grid;
  gap: 10px;
}

.wait p {
  margin: 0;
}

.sentence {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}
</style>
