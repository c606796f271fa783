<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { EmailRow } from '../../contract/emails.ts'
import { call } from '../api.ts'
import DeleteThing from '../blocks/DeleteThing.vue'
import { passesState, stateItems, useThingActions, type StateFilter } from '../blocks/thingActions.ts'
import ThingStateMark from '../blocks/ThingStateMark.vue'
import ActionMenu from '../frame/ActionMenu.vue'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import StationTabs from '../frame/StationTabs.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { rateOf } from '../rate.ts'
import { useSession } from '../workspace/session.ts'
import { countOf, someOf, whenOf } from '../wording.ts'
import NewEmail from './NewEmail.vue'

const session = useSession()
const now = useNowIso()
const zone = computed(() => session.me?.business.zone ?? 'UTC')
const { data, problem } = useLoaded((signal) => call(api.emails.list, { signal }), ['pages', 'email'])

const typed = ref('')
const state = ref<StateFilter>('current')
const rows = computed(() => {
  const wanted = typed.value.trim().toLowerCase()
  return (
    data.value?.filter(
      (row) =>
        passesState(state.value, row.state) && `${row.name} ${row.subject}`.toLowerCase().includes(wanted),
    ) ?? null
  )
})

const columns: Column<EmailRow>[] = [
  { title: 'Name', key: 'name', width: 250 },
  { title: 'State', key: 'state' },
  { title: 'Kind', key: 'purpose' },
  { title: 'Used in', key: 'usedIn', sortable: false, width: 150 },
  { title: 'Sent', key: 'sent', align: 'end' },
  { title: 'Opened', key: 'opened', align: 'end' },
  { title: 'Clicked', key: 'clicked', align: 'end' },
  { title: 'Changed', key: 'changedAt' },
  actionsColumn,
]
const things = useThingActions<EmailRow>(api.emails, { route: api.emails.copy, path: '/library/emails' })
const { refused, leaving, actionsOf } = things
const making = ref(false)
</script>

<template>
  <DataScreen title="Emails" :columns="columns" :rows="rows" :problem="problem" :search="typed">
    <template #tabs><StationTabs of="Library" /></template>
    <template #action>
      <v-btn color="secondary" @click="making = true">New email</v-btn>
    </template>
    <template #above>
      <div class="filters">
        <v-select v-model="state" label="State" :items="stateItems" />
        <v-text-field v-model="typed" label="Search by name or subject" clearable />
        <span class="soft">Opens are a hint: some mailboxes load every picture, others none.</span>
      </div>
      <ProblemNote :problem="leaving ? null : refused" />
    </template>
    <template #[`item.name`]="{ item }">
      <router-link :to="`/library/emails/${item.id}`">{{ item.name }}</router-link>
      <div class="soft">{{ item.subject || 'no subject yet' }}</div>
    </template>
    <template #[`item.state`]="{ item }">
      <ThingStateMark :state="item.state" :has-draft="item.hasDraft" />
    </template>
    <template #[`item.usedIn`]="{ item }"
      ><span :title="item.usedIn.join(', ')">{{ someOf(item.usedIn) }}</span></template
    >
    <template #[`item.sent`]="{ item }">
      <router-link
        v-if="item.sent > 0"
        class="figures"
        :to="`/library/emails/${item.id}/report`"
        :aria-label="`${countOf(item.sent)} sent: report of ${item.name}`"
        >{{ countOf(item.sent) }}</router-link
      >
      <span v-else class="figures">0</span>
    </template>
    <template #[`item.opened`]="{ item }">
      <span v-if="item.sent" :title="rateOf(item.opened, item.sent).interval">
        <span class="figures">{{ countOf(item.opened) }}</span>
        <div class="soft rate">{{ rateOf(item.opened, item.sent).words }}</div>
      </span>
    </template>
    <template #[`item.clicked`]="{ item }">
      <span v-if="item.sent" :title="rateOf(item.clicked, item.sent).interval">
        <span class="figures">{{ countOf(item.clicked) }}</span>
        <div class="soft rate">{{ rateOf(item.clicked, item.sent).words }}</div>
      </span>
    </template>
    <template #[`item.changedAt`]="{ item }">
      <span class="figures rate">{{ whenOf(item.changedAt, zone, now) }}</span>
    </template>
    <template #[`item.actions`]="{ item }">
      <ActionMenu label="More" size="small" :actions="actionsOf(item)" />
    </template>
    <template #empty
      >No emails yet. <a href="#" @click.prevent="making = true">Make the first one</a>.</template
    >
    <template #more>
      <NewEmail v-if="making" v-model="making" />
      <DeleteThing word="email" :things="things">
        <p>All its versions go with it. Emails that were sent cannot be deleted: archive them.</p>
      </DeleteThing>
    </template>
  </DataScreen>
</template>

<style scoped>
.filters {
  display: flex;
  align-items: center;
  gap: 12px;
  margin-bottom: 12px;
}

.filters > .v-input {
  flex: 0 0 230px;
}

.rate {
  white-space: nowrap;
}
</style>
