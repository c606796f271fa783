<script setup lang="ts">
import { mdiClose } from '@mdi/js'
import { computed } from 'vue'
import type { FollowupView } from '../../contract/followups.ts'
import type { LeaveRule, Program } from '../../core/followups/program.ts'
import { isTrigger, usualReentryDays, type Reentry, type StartRule } from '../../core/followups/start.ts'
import { allSteps } from '../../core/followups/step.ts'
import ConditionGroup from '../audience/segments/ConditionGroup.vue'
import { asGroup, type Group } from '../audience/segments/subjects.ts'
import { useVocabulary } from '../audience/segments/vocabulary.ts'
import VersionsInput from '../blocks/VersionsInput.vue'
import InlineNumber from '../frame/InlineNumber.vue'
import InlineSelect from '../frame/InlineSelect.vue'
import RuleInput from './RuleInput.vue'
import { allStartKinds, startKinds, triggerKinds } from './ruleKinds.ts'

/** What can be set about the follow-up itself: how people come in, how they leave, its clock, its versions. */
defineProps<{ view: FollowupView }>()
defineEmits<{ goBack: [version: number] }>()
const program = defineModel<Program>({ required: true })
const vocabulary = useVocabulary()

const set = (given: Partial<Program>): void => {
  program.value = { ...program.value, ...given }
}
const replaceAt = <T,>(list: readonly T[], at: number, next: T): T[] =>
  list.map((each, i) => (i === at ? next : each))
const without = <T,>(list: readonly T[], at: number): T[] => list.filter((_, i) => i !== at)

function addStart(): void {
  const fresh = startKinds.formSent.fresh(vocabulary.words)
  if (fresh) set({ startsWhen: [...program.value.startsWhen, fresh] })
}
const addLeave = (): void =>
  set({ leavesWhen: [...program.value.leavesWhen, { when: { kind: 'productBought' } }] })
function setLeave(at: number, rule: LeaveRule): void {
  set({ leavesWhen: replaceAt(program.value.leavesWhen, at, rule) })
}
const milestones = computed(() => [
  { title: 'leave', value: '' },
  ...allSteps(program.value.steps).flatMap((step) =>
    step.kind === 'milestone' ? [{ title: `go on from “${step.name}”`, value: step.id }] : [],
  ),
])

const reentryItems: { title: string; value: Reentry }[] = [
  { title: 'once', value: 'never' },
  { title: 'again after leaving', value: 'afterLeaving' },
  { title: 'again after some days', value: 'afterDays' },
  { title: 'every time, also while inside', value: 'always' },
]
const isLimited = computed({
  get: () => program.value.entryCondition !== undefined,
  set(wanted: boolean) {
    const { entryCondition: _old, ...rest } = program.value
    program.value = wanted ? { ...rest, entryCondition: asGroup(null) } : rest
  },
})
const entry = computed({
  get: () => asGroup(program.value.entryCondition ?? null),
  set: (group: Group) => set({ entryCondition: group }),
})
const zones = Intl.supportedValuesOf('timeZone')
</script>

<template>
  <div class="settings">
    <h2>{{ view.name }}</h2>
    <section aria-labelledby="starts-when">
      <h3 id="starts-when">Starts when somebody</h3>
      <div v-for="(rule, i) in program.startsWhen" :key="i" class="line">
        <span v-if="i > 0" class="soft">or</span>
        <RuleInput
          :model-value="rule"
          :kinds="allStartKinds"
          @update:model-value="
            (next: StartRule) => set({ startsWhen: replaceAt(program.startsWhen, i, next) })
          "
        />
        <v-btn
          :icon="mdiClose"
          size="x-small"
          variant="text"
          aria-label="Remove this start"
          @click="set({ startsWhen: without(program.startsWhen, i) })"
        />
      </div>
      <p v-if="program.startsWhen.length === 0" class="soft">
        Nothing starts it: people come in by hand, by a form or a link, or from another follow-up.
      </p>
      <v-btn size="small" variant="outlined" @click="addStart">Add a start</v-btn>
      <v-switch v-model="isLimited" label="Only for some of them" />
      <ConditionGroup v-if="isLimited" v-model="entry" :depth="0" />
      <p class="line">
        Each person comes in
        <InlineSelect
          label="How often"
          :items="reentryItems"
          :model-value="program.reentry"
          @update:model-value="(reentry) => set({ reentry })"
        />
        <template v-if="program.reentry === 'afterDays'">
          <InlineNumber
            label="Days"
            :min="1"
            :model-value="program.reentryDays ?? usualReentryDays"
            @update:model-value="(days) => days !== null && set({ reentryDays: days })"
          />
          days
        </template>
      </p>
    </section>
    <section aria-labelledby="leaves-when">
      <h3 id="leaves-when">People leave when they</h3>
      <div v-for="(rule, i) in program.leavesWhen" :key="i" class="line">
        <RuleInput
          :model-value="rule.when"
          :kinds="triggerKinds"
          @update:model-value="(when: StartRule) => isTrigger(when) && setLeave(i, { ...rule, when })"
        />
        <InlineSelect
          v-if="milestones.length > 1"
          label="What then"
          :items="milestones"
          :model-value="rule.milestone ?? ''"
          @update:model-value="
            (milestone) => setLeave(i, { when: rule.when, ...(milestone && { milestone }) })
          "
        />
        <v-btn
          :icon="mdiClose"
          size="x-small"
          variant="text"
          aria-label="Remove this way of leaving"
          @click="set({ leavesWhen: without(program.leavesWhen, i) })"
        />
      </div>
      <p v-if="program.leavesWhen.length === 0" class="soft">Nothing takes them out before the end.</p>
      <v-btn size="small" variant="outlined" @click="addLeave">Add a way to leave</v-btn>
    </section>
    <v-autocomplete
      :model-value="program.zone"
      label="Its clock"
      :items="zones"
      hint="Days and hours of the waits are those of this zone, unless a wait takes the reader’s own."
      persistent-hint
      @update:model-value="(zone: string | null) => zone && set({ zone })"
    />
    <section v-if="view.pages.length" aria-label="Pages that let people in">
      <h3>Pages that let people in</h3>
      <ul>
        <li v-for="page in view.pages" :key="page.path">
          <a :href="page.path" target="_blank" rel="noopener">{{ page.name }}</a>
        </li>
      </ul>
    </section>
    <section aria-labelledby="versions">
      <h3 id="versions">Versions</h3>
      <VersionsInput :versions="view.versions" @go-back="(version: number) => $emit('goBack', version)" />
    </section>
  </div>
</template>

<style scoped>
.settings,
section {
  display: grid;
  gap: 10px;
  justify-items: start;
}

.settings > *,
section > .v-input,
section > fieldset,
section > .versions {
  justify-self: stretch;
}

.settings p,
.settings ul {
  margin: 0;
}

.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}
</style>
