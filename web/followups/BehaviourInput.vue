<script setup lang="ts">
import { mdiClose } from '@mdi/js'
import type { Behaviour, Deed } from '../../core/followups/behaviour.ts'
import { isTrigger, type StartRule } from '../../core/followups/start.ts'
import InlineNumber from '../frame/InlineNumber.vue'
import InlineSelect from '../frame/InlineSelect.vue'
import RuleInput from './RuleInput.vue'
import { triggerKinds } from './ruleKinds.ts'
import SpanInput from './SpanInput.vue'

/** How a rehearsed person behaves, in sentences. */
const behaviour = defineModel<Behaviour>({ required: true })
const set = (given: Partial<Behaviour>): void => {
  behaviour.value = { ...behaviour.value, ...given }
}
const change = (at: number, given: Partial<Deed>): void =>
  set({ does: behaviour.value.does.map((each, i) => (i === at ? { ...each, ...given } : each)) })
const afters = [
  { title: 'after the start', value: 'start' as const },
  { title: 'after an email', value: 'email' as const },
]
function setAfter(at: number, what: 'start' | 'email'): void {
  const { span } = behaviour.value.does[at]?.after ?? { span: { amount: 1, unit: 'days' as const } }
  change(at, { after: what === 'start' ? { what, span } : { what, span, nth: 1 } })
}
const add = (): void =>
  set({
    does: [
      ...behaviour.value.does,
      { does: { kind: 'productBought' }, after: { what: 'start', span: { amount: 3, unit: 'days' } } },
    ],
  })
</script>

<template>
  <div class="behaviour">
    <p class="line">
      Opens
      <InlineNumber
        label="Opens, of a hundred"
        :min="0"
        :model-value="behaviour.opens"
        @update:model-value="(opens) => opens !== null && opens <= 100 && set({ opens })"
      />
      of a hundred emails, and clicks in
      <InlineNumber
        label="Clicks, of a hundred"
        :min="0"
        :model-value="behaviour.clicks"
        @update:model-value="(clicks) => clicks !== null && clicks <= 100 && set({ clicks })"
      />
      of a hundred of those,
      <InlineNumber
        label="Minutes until it is opened"
        :min="1"
        :model-value="behaviour.opensAfter"
        @update:model-value="(opensAfter) => opensAfter !== null && set({ opensAfter })"
      />
      minutes after it came.
    </p>
    <div v-for="(deed, i) in behaviour.does" :key="i" class="line">
      <RuleInput
        :model-value="deed.does"
        :kinds="triggerKinds"
        @update:model-value="(does: StartRule) => isTrigger(does) && change(i, { does })"
      />
      <SpanInput
        label="How long"
        :model-value="deed.after.span"
        @update:model-value="(span) => change(i, { after: { ...deed.after, span } })"
      />
      <InlineSelect
        label="After what"
        :items="afters"
        :model-value="deed.after.what"
        @update:model-value="(what) => setAfter(i, what)"
      />
      <InlineNumber
        v-if="deed.after.what === 'email'"
        label="Which email"
        :min="1"
        :model-value="deed.after.nth"
        @update:model-value="
          (nth) => nth !== null && change(i, { after: { ...deed.after, what: 'email', nth } })
        "
      />
      <v-btn
        :icon="mdiClose"
        size="x-small"
        variant="text"
        aria-label="Take this out"
        @click="set({ does: behaviour.does.filter((_, n) => n !== i) })"
      />
    </div>
    <v-btn size="small" variant="outlined" @click="add">Add something that they do</v-btn>
  </div>
</template>

<style scoped>
.behaviour {
  display: grid;
  gap: 8px;
  justify-items: start;
}

.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  margin: 0;
}
</style>
