<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import type { DeadlineView } from '../../contract/deadlines.ts'
import { deadline, type Deadline } from '../../core/commerce/deadline.ts'
import { describeSpan } from '../../core/followups/sentences.ts'
import type { Target } from '../../core/blocks/target.ts'
import { call } from '../api.ts'
import TargetInput from '../blocks/inspector/TargetInput.vue'
import DeleteThing from '../blocks/DeleteThing.vue'
import { useSite } from '../blocks/site.ts'
import { useDeleting } from '../blocks/thingActions.ts'
import { useEditDialog } from '../editDialog.ts'
import SpanInput from '../followups/SpanInput.vue'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import EditDelete from '../frame/EditDelete.vue'
import MomentInput from '../frame/MomentInput.vue'
import EditDialog from '../frame/EditDialog.vue'
import StationTabs from '../frame/StationTabs.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { countOf, whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'

/** Personal deadlines: how each begins, how long it runs, and where people go once it is over. */
const session = useSession()
const now = useNowIso()
const zone = computed(() => session.me?.business.zone ?? 'UTC')
const library = useSite()
void library.reload()
const { data, problem } = useLoaded((signal) => call(api.deadlines.list, { signal }), ['pages', 'audience'])

const length: Deadline['runs'] = { by: 'length', lasts: { amount: 3, unit: 'days' } }
const empty = (): Deadline => ({ name: '', begins: 'visit', runs: length, afterwards: { to: 'nowhere' } })
const dialog = useEditDialog(deadline, empty(), (id, body) =>
  id === null ? call(api.deadlines.create, { body }) : call(api.deadlines.save, { params: { id }, body }),
)
const begin = ({ id, running: _, over: __, changedAt: ___, ...values }: DeadlineView): void =>
  dialog.begin(id, values)
const runs = computed((): Deadline['runs'] => dialog.form.values.runs ?? length)
function setBy(by: Deadline['runs']['by']): void {
  dialog.form.values.runs =
    by === 'length' ? length : { by, at: new Date(Date.parse(now.value)).toISOString() }
}

const beginnings: { title: string; value: Deadline['begins'] }[] = [
  { title: 'the first look at a page of it', value: 'visit' },
  { title: 'the email that shows its countdown', value: 'sending' },
  { title: 'a step of a follow-up', value: 'followup' },
]
const beginsWith = (item: DeadlineView): string =>
  beginnings.find(({ value }) => value === item.begins)?.title ?? ''
function runsFor({ begins, runs: run }: DeadlineView): string {
  if (begins === 'followup') return 'as the step says'
  return run.by === 'length' ? describeSpan(run.lasts) : `until ${whenOf(run.at, zone.value, now.value)}`
}

const deleting = useDeleting<DeadlineView>(api.deadlines.delete)
const { leaving } = deleting
const columns: Column<DeadlineView>[] = [
  { title: 'Deadline', key: 'name' },
  { title: 'Begins with', key: 'begins', sortable: false },
  { title: 'How long', key: 'runs', sortable: false },
  { title: 'Running for', key: 'running', align: 'end' },
  { title: 'Over for', key: 'over', align: 'end' },
  actionsColumn,
]
</script>

<template>
  <DataScreen title="Deadlines" :columns="columns" :rows="data" :problem="problem">
    <template #tabs><StationTabs of="Library" /></template>
    <template #action>
      <v-btn color="secondary" @click="dialog.begin(null, empty())">New deadline</v-btn>
    </template>
    <template #[`item.name`]="{ item }"
      ><strong>{{ item.name }}</strong></template
    >
    <template #[`item.begins`]="{ item }">{{ beginsWith(item) }}</template>
    <template #[`item.runs`]="{ item }">{{ runsFor(item) }}</template>
    <template #[`item.running`]="{ item }"
      ><span class="figures">{{ countOf(item.running) }}</span></template
    >
    <template #[`item.over`]="{ item }"
      ><span class="figures">{{ countOf(item.over) }}</span></template
    >
    <template #[`item.actions`]="{ item }">
      <EditDelete :name="item.name" @edit="begin(item)" @delete="leaving = item" />
    </template>
    <template #empty
      >No deadlines yet. A personal deadline ends for each person by themselves, and really ends.</template
    >
    <template #more>
      <EditDialog word="deadline" :dialog="dialog">
        <v-text-field
          v-bind="dialog.form.field('name')"
          label="Name"
          :disabled="dialog.id !== null"
          hint="It stays: pages, emails and follow-ups speak of it."
          persistent-hint
          autofocus
        />
        <v-select v-bind="dialog.form.field('begins')" label="Begins with" :items="beginnings" />
        <template v-if="dialog.form.values.begins !== 'followup'">
          <v-select
            :model-value="runs.by"
            label="Runs"
            :items="[
              { title: 'For some time', value: 'length' },
              { title: 'Until a date', value: 'date' },
            ]"
            @update:model-value="setBy"
          />
          <p v-if="runs.by === 'length'" class="line">
            It runs for
            <SpanInput
              label="How long it runs"
              :model-value="runs.lasts"
              @update:model-value="(lasts) => (dialog.form.values.runs = { by: 'length', lasts })"
            />
          </p>
          <MomentInput
            v-else
            :model-value="runs.at"
            label="Until"
            :zone="zone"
            @update:model-value="(at: string | null) => at && (dialog.form.values.runs = { by: 'date', at })"
          />
        </template>
        <p v-else class="soft">The step of the follow-up says how long.</p>
        <TargetInput
          :model-value="dialog.form.values.afterwards as Target"
          label="Where its pages lead afterwards"
          @update:model-value="(to: Target) => (dialog.form.values.afterwards = to)"
        />
        <p class="soft">
          A page, a price, a part of a page or a rule of a junction is bound to it where it is edited. Who has
          no such deadline, or whose is over, does not get in: not by another browser, and not by somebody
          else’s link.
        </p>
      </EditDialog>
      <DeleteThing word="deadline" :things="deleting"
        ><p>Pages and prices that are bound to it stay closed to all who have none.</p></DeleteThing
      >
    </template>
  </DataScreen>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  margin: 0;
}
</style>
