<script setup lang="ts" generic="Row extends LabelledThing">
import { computed, ref } from 'vue'
import type { ProblemDetails } from '../../contract/problems.ts'
import ActionMenu from '../frame/ActionMenu.vue'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import StationTabs from '../frame/StationTabs.vue'
import { useNowIso } from '../now.ts'
import { someOf, whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import DeleteThing from './DeleteThing.vue'
import {
  passesState,
  stateItems,
  type LabelledThing,
  type StateFilter,
  type useThingActions,
} from './thingActions.ts'
import ThingStateMark from './ThingStateMark.vue'

/** The list of one kind of thing that has an address: found by state, label and name. */
const props = defineProps<{
  title: string
  /** What one of them is called. */
  word: string
  /** Where visitors find them, as “/q/”, if they have an address. */
  address?: string
  /** Where their editors are. */
  editors: string
  rows: readonly Row[] | null
  problem: ProblemDetails | null
  things: ReturnType<typeof useThingActions<Row>>
  /** What else is told of each, in numbers. */
  about: readonly { key: keyof Row & string; title: string; words: (row: Row) => string }[]
}>()
const making = defineModel<boolean>('making', { required: true })
defineSlots<{
  /** Said where there are none yet. */
  none: () => unknown
  /** What is lost with one that is deleted. */
  lost: () => unknown
  /** The dialog that makes one. */
  make: () => unknown
}>()
const { refused, leaving, actionsOf } = props.things

const session = useSession()
const now = useNowIso()
const zone = computed(() => session.me?.business.zone ?? 'UTC')

const typed = ref('')
const state = ref<StateFilter>('current')
const label = ref<string | null>(null)
const labels = computed(() => [...new Set((props.rows ?? []).flatMap((row) => row.labels))].sort())
const shown = computed(
  () =>
    props.rows?.filter(
      (row) =>
        passesState(state.value, row.state) &&
        (label.value === null || row.labels.includes(label.value)) &&
        row.name.toLowerCase().includes(typed.value.trim().toLowerCase()),
    ) ?? null,
)

const columns = computed((): Column<Row>[] => [
  { title: 'Name', key: 'name', width: 220 },
  { title: 'State', key: 'state' },
  ...props.about.map(({ key, title }) => ({ key, title, align: 'end' as const })),
  { title: 'Labels', key: 'labels', sortable: false },
  { title: 'Used in', key: 'usedIn', sortable: false },
  { title: 'Changed', key: 'changedAt' },
  actionsColumn,
])
</script>

<template>
  <DataScreen :title="title" :columns="columns" :rows="shown" :problem="problem" :search="typed">
    <template #tabs><StationTabs of="Library" /></template>
    <template #action>
      <v-select v-model="state" label="State" :items="stateItems" width="170" />
      <v-select v-if="labels.length" v-model="label" label="Label" :items="labels" width="140" clearable />
      <v-text-field v-model="typed" label="Search by name" width="180" clearable />
      <v-btn color="secondary" @click="making = true">New {{ word }}</v-btn>
    </template>
    <template #above><ProblemNote :problem="leaving ? null : refused" /></template>
    <template #[`item.name`]="{ item }">
      <router-link :to="`${editors}/${item.id}`">{{ item.name }}</router-link>
      <div v-if="address" class="soft figures">{{ address }}{{ item.path }}</div>
    </template>
    <template #[`item.state`]="{ item }">
      <ThingStateMark :state="item.state" :has-draft="item.hasDraft" />
    </template>
    <template v-for="{ key, words } in about" :key="key" #[`item.${key}`]="{ item }">
      <span class="figures">{{ words(item) }}</span>
    </template>
    <template #[`item.labels`]="{ item }">
      <v-chip v-for="each in item.labels" :key="each">{{ each }}</v-chip>
    </template>
    <template #[`item.usedIn`]="{ item }">
      <span :title="item.usedIn.join(', ')">{{ someOf(item.usedIn) }}</span>
    </template>
    <template #[`item.changedAt`]="{ item }">
      <span class="figures when">{{ whenOf(item.changedAt, zone, now) }}</span>
    </template>
    <template #[`item.actions`]="{ item }">
      <ActionMenu label="More" size="small" :actions="actionsOf(item)" />
    </template>
    <template #empty>
      <slot name="none" />
      <a href="#" @click.prevent="making = true">Make the first one</a>.
    </template>
    <template #more>
      <slot name="make" />
      <DeleteThing :word="word" :things="things"><slot name="lost" /></DeleteThing>
    </template>
  </DataScreen>
</template>
