<script setup lang="ts">
import { mdiClose, mdiPlus } from '@mdi/js'
import { computed } from 'vue'
import type { BehaviourRule, ProfileRule, Scorecard } from '../../../core/audience/scores/scorecard.ts'
import type { Leaf } from '../../../core/audience/segments/condition.ts'
import InlineNumber from '../../frame/InlineNumber.vue'
import InlineSelect from '../../frame/InlineSelect.vue'
import ConditionLine from '../segments/ConditionLine.vue'
import ThingSelect from '../segments/ThingSelect.vue'
import { activities, offered } from '../segments/activities.ts'
import { unwrap } from '../segments/subjects.ts'

/** The rules of a scorecard as sentences: what is done, what it gives, how it fades, how much at most. */
const card = defineModel<Scorecard>({ required: true })

/** Both kinds of rules as rows of one table. */
type Row = { at: number } & (
  { kind: 'behaviours'; rule: BehaviourRule } | { kind: 'profile'; rule: ProfileRule }
)
const rows = computed((): Row[] => [
  ...card.value.behaviours.map((rule, at) => ({ kind: 'behaviours' as const, at, rule })),
  ...card.value.profile.map((rule, at) => ({ kind: 'profile' as const, at, rule })),
])

function freshId(): string {
  const taken = new Set(rows.value.map(({ rule }) => rule.id))
  let n = taken.size + 1
  while (taken.has(`r${n}`)) n += 1
  return `r${n}`
}

function setRule(row: Row, part: Partial<BehaviourRule> & Partial<ProfileRule>): void {
  const rules = card.value[row.kind].map((rule, i) => (i === row.at ? { ...rule, ...part } : rule))
  card.value = { ...card.value, [row.kind]: rules }
}

function removeRule(row: Row): void {
  const rules = card.value[row.kind].filter((rule) => rule.id !== row.rule.id)
  card.value = { ...card.value, [row.kind]: rules }
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

const activityItems = activities.map(({ kind, title }) => ({ value: kind, title }))
const about = (rule: BehaviourRule) => offered(rule.activity)
const thingOf = (rule: BehaviourRule): number => Number(rule.details[about(rule)?.detail ?? ''] ?? 0)

function setThing(row: Row & { kind: 'behaviours' }, id: number): void {
  const name = about(row.rule)?.detail
  setRule(row, { details: name && id > 0 ? { [name]: id } : {} })
}

/** What keeps points small, in the order of the columns. */
const limits = {
  halfLife: { label: 'Half-life, days', none: 'never', precision: null },
  capPerDay: { label: 'Daily cap', none: '—', precision: 0 },
  capInAll: { label: 'Total cap', none: '—', precision: 0 },
} as const
</script>

<template>
  <v-table tabindex="0" role="region" aria-label="Rules">
    <thead>
      <tr>
        <th scope="col">Rule</th>
        <th scope="col">Points</th>
        <th v-for="each in limits" :key="each.label" scope="col">{{ each.label }}</th>
        <th scope="col"><span class="visually-hidden">Remove</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(row, i) in rows" :key="row.rule.id">
        <td>
          <span v-if="row.kind === 'behaviours'" class="what">
            <InlineSelect
              label="Activity"
              :items="activityItems"
              :model-value="row.rule.activity"
              @update:model-value="(activity) => setRule(row, { activity, details: {} })"
            />
            <ThingSelect
              v-if="about(row.rule)?.things"
              :kind="about(row.rule)!.things!"
              any="any"
              :model-value="thingOf(row.rule)"
              @update:model-value="(id) => setThing(row as Row & { kind: 'behaviours' }, id)"
            />
          </span>
          <ConditionLine
            v-else
            :model-value="unwrap(row.rule.when).inner as Leaf"
            :negated="false"
            @update:model-value="(when) => when && setRule(row, { when })"
          />
        </td>
        <td>
          <InlineNumber
            label="Points"
            :model-value="row.rule.points"
            @update:model-value="(points) => points !== null && setRule(row, { points })"
          />
        </td>
        <template v-if="row.kind === 'behaviours'">
          <td v-for="(each, part) in limits" :key="part">
            <InlineNumber
              :label="each.label"
              :placeholder="each.none"
              :precision="each.precision"
              :min="part === 'halfLife' ? undefined : 1"
              optional
              :model-value="row.rule[part]"
              @update:model-value="(value) => setRule(row, { [part]: value })"
            />
          </td>
        </template>
        <td v-else colspan="3" class="soft">while true</td>
        <td>
          <v-btn
            :icon="mdiClose"
            size="x-small"
            variant="text"
            :aria-label="`Remove rule ${i + 1}`"
            @click="removeRule(row)"
          />
        </td>
      </tr>
    </tbody>
  </v-table>
  <p class="more">
    <v-btn size="small" variant="outlined" :prepend-icon="mdiPlus" @click="addBehaviour">
      Add activity rule
    </v-btn>
    <v-btn size="small" variant="outlined" :prepend-icon="mdiPlus" @click="addProfile">
      Add profile rule
    </v-btn>
  </p>
</template>

<style scoped>
.what {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  padding: 4px 0;
}

.more {
  display: flex;
  gap: 8px;
  padding: 12px 16px;
  margin: 0;
}
</style>
