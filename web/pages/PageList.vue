<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { PageRow } from '../../contract/pages.ts'
import { offeredPurposes, type PagePurpose, purposes } from '../../core/pages/page.ts'
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
import { rateOf } from '../rate.ts'
import { useNowIso } from '../now.ts'
import { countOf, whenOf, someOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import NewPage from './NewPage.vue'
import { takeTurn } from './miniatureTurns.ts'
import PageMiniature from './PageMiniature.vue'

const session = useSession()
const now = useNowIso()
const { data, problem } = useLoaded((signal) => call(api.pages.list, { signal }), ['pages', 'audience'])

// Who looks at their pages opens one next: the editor is there by then.
onMounted(async () => {
  const endTurn = await takeTurn()
  // Where it cannot be had now, it is asked for again when a page is opened.
  await import('./PageEditor.vue').catch(() => undefined)
  endTurn()
})

const typed = ref('')
const state = ref<StateFilter>('current')
const purpose = ref<PagePurpose | null>(null)
const rows = computed(() => {
  const wanted = typed.value.trim().toLowerCase()
  return (
    data.value?.filter(
      (row) =>
        passesState(state.value, row.state) &&
        (purpose.value === null || row.purpose === purpose.value) &&
        `${row.name} ${row.path}`.toLowerCase().includes(wanted),
    ) ?? null
  )
})

const columns: Column<PageRow>[] = [
  { title: 'Page', key: 'preview', sortable: false, width: 116 },
  { title: 'Name', key: 'name', width: 250 },
  { title: 'Purpose', key: 'purpose', value: (row) => purposes[row.purpose].name },
  { title: 'State', key: 'state' },
  { title: 'Visitors, 30 days', key: 'visitors', align: 'end', width: 110 },
  { title: 'Signed up', key: 'sent', align: 'end', value: (row) => row.sent ?? -1 },
  { title: 'Used in', key: 'usedIn', sortable: false },
  { title: 'Changed', key: 'changedAt' },
  actionsColumn,
]

const signUps = ({ sent, visitors }: PageRow) => (sent === null ? null : rateOf(sent, visitors))

const things = useThingActions<PageRow>(api.pages, { route: api.pages.copy, path: '/library/pages' })
const { refused, busy, leaving, actionsOf } = things
const making = ref(false)
const chosen = ref<number[]>([])
async function archiveChosen(): Promise<void> {
  if (await things.archive(chosen.value, true)) chosen.value = []
}

const purposeItems = offeredPurposes.map((value) => ({ value, title: purposes[value].name }))
const zone = computed(() => session.me?.business.zone ?? 'UTC')
</script>

<template>
  <DataScreen title="Pages" :columns="columns" :rows="rows" :problem="problem" :search="typed">
    <template #tabs><StationTabs of="Library" /></template>
    <template #action>
      <v-text-field v-model="typed" label="Search by name or address" width="210" clearable />
      <v-btn color="secondary" @click="making = true">New page</v-btn>
    </template>
    <template #above>
      <div class="filters">
        <v-select v-model="state" label="State" :items="stateItems" />
        <v-select v-model="purpose" label="Purpose" :items="purposeItems" clearable />
        <template v-if="chosen.length">
          <span>{{ countOf(chosen.length) }} selected</span>
          <v-btn variant="outlined" size="small" :loading="busy" @click="archiveChosen">Archive</v-btn>
        </template>
      </div>
      <ProblemNote :problem="leaving ? null : refused" />
    </template>
    <template #[`item.preview`]="{ item }">
      <div class="choose">
        <v-checkbox-btn v-model="chosen" :value="item.id" :aria-label="`Select ${item.name}`" />
        <PageMiniature :src="item.preview" />
      </div>
    </template>
    <template #[`item.name`]="{ item }">
      <router-link :to="`/library/pages/${item.id}`">{{ item.name }}</router-link>
      <div class="soft">/p/{{ item.path }}</div>
    </template>
    <template #[`item.purpose`]="{ item }">
      {{ purposes[item.purpose].name }}
      <div v-if="item.course" class="soft">{{ item.course }}</div>
    </template>
    <template #[`item.state`]="{ item }">
      <ThingStateMark :state="item.state" :has-draft="item.hasDraft" />
    </template>
    <template #[`item.visitors`]="{ item }">
      <span class="figures">{{ countOf(item.visitors) }}</span>
    </template>
    <template #[`item.sent`]="{ item }">
      <span v-if="signUps(item)" :title="signUps(item)?.interval">
        <span class="figures">{{ countOf(item.sent ?? 0) }}</span>
        <div class="soft rate">{{ signUps(item)?.words }}</div>
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
      >No pages yet. <a href="#" @click.prevent="making = true">Make the first one</a>.</template
    >
    <template #more>
      <NewPage v-if="making" v-model="making" :pages="data ?? []" />
      <DeleteThing word="page" :things="things">
        <p>
          All its versions go with it. Archiving keeps them.
          {{
            leaving?.usedIn.length
              ? `These lead to it and will lead nowhere: ${leaving.usedIn.join(', ')}.`
              : ''
          }}
        </p>
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
  flex: 0 0 200px;
}

.choose {
  display: flex;
  align-items: center;
  gap: 4px;
}

.choose > .v-selection-control {
  flex: none;
}

.rate,
.when {
  white-space: nowrap;
}
</style>
