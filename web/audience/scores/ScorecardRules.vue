<script setup lang="ts">
import { mdiClose, mdiPlus } from '@mdi/js'
import type { BehaviourRule, ProfileRule, Scorecard } from '../../../core/audience/scores/scorecard.ts'
import type { Leaf } from '../../../core/audience/segments/condition.ts'
import NumberInput from '../../frame/NumberInput.vue'
import ConditionLine from '../segments/ConditionLine.vue'
import ThingSelect from '../segments/ThingSelect.vue'
import { activities, offered } from '../segments/activities.ts'
import { unwrap } from '../segments/subjects.ts'

/** The rules of a scorecard as sentences: what is done, what it gives, how it fades, how much at most. */
const card = defineModel<Scorecard>({ required: true })

function freshId(): string {
  const taken = new Set([...card.value.behaviours, ...card.value.profile].map(({ id }) => id))
  let n = taken.size + 1
  while (taken.has(`r${n}`)) n += 1
  return `r${n}`
}

function setBehaviour(at: number, part: Partial<BehaviourRule>): void {
  const behaviours = card.value.behaviours.map((rule, i) => (i === at ? { ...rule, ...part } : rule))
  card.value = { ...card.value, behaviours }
}

function setProfile(at: number, part: Partial<ProfileRule>): void {
  const profile = card.value.profile.map((rule, i) => (i === at ? { ...rule, ...part } : rule))
  card.value = { ...card.value, profile }
}

function addBehaviour(): void {
  const rule: BehaviourRule = {
    id: freshId(),
    activity: 'emailOpened',
    details: {},
    points: 1,
    capPerDay: null,
    capInAll: null,
    halfLife: 30,
  }
  card.value = { ...card.value, behaviours: [...card.value.behaviours, rule] }
}

function addProfile(): void {
  const when = { kind: 'field', field: 'country', test: { test: 'isSet' } } as const
  card.value = { ...card.value, profile: [...card.value.profile, { id: freshId(), when, points: 5 }] }
}

const remove = (kind: 'behaviours' | 'profile', at: number): void => {
  card.value = { ...card.value, [kind]: card.value[kind].filter((_: unknown, i: number) => i !== at) }
}

const about = (rule: BehaviourRule) => offered(rule.activity)
const thingOf = (rule: BehaviourRule): number => Number(rule.details[about(rule)?.detail ?? ''] ?? 0)

function setThing(at: number, rule: BehaviourRule, id: number): void {
  const name = about(rule)?.detail
  setBehaviour(at, { details: name && id > 0 ? { [name]: id } : {} })
}

/** What keeps points small, in the order of the columns. */
const limits = {
  halfLife: { label: 'Half-life in days', none: 'never' },
  capPerDay: { label: 'At most a day', none: '—' },
  capInAll: { label: 'At most in all', none: '—' },
} as const

const valueOf = (event: Event): string => (event.target as HTMLSelectElement).value
</script>

<template>
  <div class="wide" tabindex="0" role="region" aria-label="Rules">
    <table class="list">
      <thead>
        <tr>
          <th>Who</th>
          <th>Points</th>
          <th>Half-life, days</th>
          <th>At most a day</th>
          <th>At most in all</th>
          <th><span class="visually-hidden">Remove</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(rule, i) in card.behaviours" :key="rule.id">
          <td class="what sentence">
            <select
              class="plain"
              aria-label="Does what"
              :value="rule.activity"
              @change="
                setBehaviour(i, { activity: valueOf($event) as BehaviourRule['activity'], details: {} })
              "
            >
              <option v-for="each in activities" :key="each.kind" :value="each.kind">{{ each.title }}</option>
            </select>
            <ThingSelect
              v-if="about(rule)?.things"
              :kind="about(rule)!.things!"
              any="any"
              :model-value="thingOf(rule)"
              @update:model-value="setThing(i, rule, $event)"
            />
          </td>
          <td>
            <NumberInput
              label="Points"
              :model-value="rule.points"
              @update:model-value="setBehaviour(i, { points: $event ?? 0 })"
            />
          </td>
          <td v-for="(each, part) in limits" :key="part">
            <NumberInput
              :label="each.label"
              :placeholder="each.none"
              :min="1"
              :model-value="rule[part]"
              @update:model-value="setBehaviour(i, { [part]: $event })"
            />
          </td>
          <td>
            <v-btn
              :icon="mdiClose"
              size="x-small"
              variant="text"
              :aria-label="`Remove rule ${i + 1}`"
              @click="remove('behaviours', i)"
            />
          </td>
        </tr>
        <tr v-for="(rule, i) in card.profile" :key="rule.id">
          <td class="what sentence">
            <ConditionLine
              :model-value="unwrap(rule.when).inner as Leaf"
              :negated="false"
              @update:model-value="setProfile(i, { when: $event })"
            />
          </td>
          <td>
            <NumberInput
              label="Points"
              :model-value="rule.points"
              @update:model-value="setProfile(i, { points: $event ?? 0 })"
            />
          </td>
          <td colspan="3" class="soft">as long as it is so</td>
          <td>
            <v-btn
              :icon="mdiClose"
              size="x-small"
              variant="text"
              :aria-label="`Remove profile rule ${i + 1}`"
              @click="remove('profile', i)"
            />
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p class="more">
    <v-btn size="small" variant="outlined" :prepend-icon="mdiPlus" @click="addBehaviour"
      >For what they do</v-btn
    >
    <v-btn size="small" variant="outlined" :prepend-icon="mdiPlus" @click="addProfile"
      >For who they are</v-btn
    >
  </p>
</template>

<style scoped>
.wide {
  overflow: auto;
}

.what {
  min-width: 250px;
}

.what :deep(.plain) {
  margin: 0 6px 4px 0;
}

td input.plain {
  width: 72px;
}

.more {
  display: flex;
  gap: 8px;
  padding: 12px 16px;
  margin: 0;
}
</style>
