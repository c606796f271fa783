<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { z } from 'zod'
import * as api from '../../contract/api.ts'
import { libraryName } from '../../contract/drafts.ts'
import type { FormRow } from '../../contract/forms.ts'
import { simpleForm, type ConfirmWhen } from '../../core/capture/form.ts'
import { call } from '../api.ts'
import DeleteThing from '../blocks/DeleteThing.vue'
import { passesState, stateItems, useThingActions, type StateFilter } from '../blocks/thingActions.ts'
import ThingStateMark from '../blocks/ThingStateMark.vue'
import { useForm } from '../form.ts'
import ActionMenu from '../frame/ActionMenu.vue'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import StationTabs from '../frame/StationTabs.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { rateOf } from '../rate.ts'
import { useSession } from '../workspace/session.ts'
import { countOf, whenOf, someOf } from '../wording.ts'

const router = useRouter()
const session = useSession()
const now = useNowIso()
const zone = computed(() => session.me?.business.zone ?? 'UTC')
const { data, problem } = useLoaded((signal) => call(api.forms.list, { signal }), ['pages', 'audience'])

const typed = ref('')
const state = ref<StateFilter>('current')
const rows = computed(
  () =>
    data.value?.filter(
      (row) =>
        passesState(state.value, row.state) &&
        row.name.toLowerCase().includes(typed.value.trim().toLowerCase()),
    ) ?? null,
)
const confirmWords: Record<ConfirmWhen, string> = {
  never: '',
  whenUnsure: 'when doubtful',
  byCountry: 'in some countries',
  always: 'always',
}

const columns: Column<FormRow>[] = [
  { title: 'Name', key: 'name', width: 220 },
  { title: 'State', key: 'state' },
  { title: 'Asks for', key: 'asks', sortable: false },
  { title: 'Double opt-in', key: 'confirm', value: (row) => confirmWords[row.confirm] },
  { title: 'Seen, 30 days', key: 'seen', align: 'end' },
  { title: 'Sent', key: 'sent', align: 'end' },
  { title: 'Used in', key: 'usedIn', sortable: false },
  { title: 'Changed', key: 'changedAt' },
  actionsColumn,
]

const things = useThingActions<FormRow>(api.forms, { route: api.forms.copy, path: '/library/forms' })
const { refused, leaving, actionsOf } = things

const making = ref(false)
const form = useForm(z.object({ name: libraryName }), { name: '' })
async function create(): Promise<void> {
  let made = 0
  const through = await form.submit(async ({ name }) => {
    made = (await call(api.forms.create, { body: { name, content: simpleForm() } })).id
  })
  if (through) await router.push(`/library/forms/${made}`)
}
</script>

<template>
  <DataScreen title="Forms" :columns="columns" :rows="rows" :problem="problem" :search="typed">
    <template #tabs><StationTabs of="Library" /></template>
    <template #action>
      <v-select v-model="state" label="State" :items="stateItems" width="170" />
      <v-text-field v-model="typed" label="Search by name" width="180" clearable />
      <v-btn color="secondary" @click="making = true">New form</v-btn>
    </template>
    <template #above><ProblemNote :problem="leaving ? null : refused" /></template>
    <template #[`item.name`]="{ item }">
      <router-link :to="`/library/forms/${item.id}`">{{ item.name }}</router-link>
    </template>
    <template #[`item.state`]="{ item }">
      <ThingStateMark :state="item.state" :has-draft="item.hasDraft" />
    </template>
    <template #[`item.confirm`]="{ item }">
      {{ confirmWords[item.confirm] }}
      <div v-if="item.waiting" class="soft">{{ countOf(item.waiting) }} waiting</div>
    </template>
    <template #[`item.seen`]="{ item }">
      <span class="figures">{{ countOf(item.seen) }}</span>
    </template>
    <template #[`item.sent`]="{ item }">
      <span :title="rateOf(item.sent, item.seen).interval">
        <span class="figures">{{ countOf(item.sent) }}</span>
        <div class="soft">{{ rateOf(item.sent, item.seen).words }}</div>
      </span>
    </template>
    <template #[`item.usedIn`]="{ item }"
      ><span :title="item.usedIn.join(', ')">{{ someOf(item.usedIn) }}</span></template
    >
    <template #[`item.changedAt`]="{ item }">
      <span class="figures when">{{ whenOf(item.changedAt, zone, now) }}</span>
    </template>
    <template #[`item.actions`]="{ item }">
      <ActionMenu label="More" size="small" :actions="actionsOf(item)" />
    </template>
    <template #empty
      >No forms yet. <a href="#" @click.prevent="making = true">Make the first one</a>.</template
    >
    <template #more>
      <QuickDialog
        v-model="making"
        title="New form"
        submit-label="Make form"
        :problem="form.problem"
        :busy="form.busy"
        @submit="create"
      >
        <v-text-field v-bind="form.field('name')" label="Name" autofocus />
        <p>It begins with first name, email address and consent.</p>
      </QuickDialog>
      <DeleteThing word="form" :things="things">
        <p>All its versions go with it. What people agreed to stays in their ledgers, word for word.</p>
      </DeleteThing>
    </template>
  </DataScreen>
</template>
