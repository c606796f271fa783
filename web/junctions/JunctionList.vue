<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { z } from 'zod'
import * as api from '../../contract/api.ts'
import { libraryName } from '../../contract/drafts.ts'
import type { JunctionRow } from '../../contract/junctions.ts'
import { junctionContent } from '../../core/junctions/junction.ts'
import { call } from '../api.ts'
import DeleteThing from '../blocks/DeleteThing.vue'
import { useLibraryRows } from '../blocks/libraryRows.ts'
import { stateItems, useThingActions } from '../blocks/thingActions.ts'
import ThingStateMark from '../blocks/ThingStateMark.vue'
import { useForm } from '../form.ts'
import ActionMenu from '../frame/ActionMenu.vue'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import LibraryTabs from '../pages/LibraryTabs.vue'
import { useSession } from '../workspace/session.ts'
import { countOf, someOf, whenOf } from '../wording.ts'

/** The junctions of the Library. */
const router = useRouter()
const session = useSession()
const now = useNowIso()
const zone = computed(() => session.me?.business.zone ?? 'UTC')
const { data, problem } = useLoaded((signal) => call(api.junctions.list, { signal }), ['pages', 'audience'])

const { typed, state, label, labels, rows } = useLibraryRows(data)

const columns: Column<JunctionRow>[] = [
  { title: 'Name', key: 'name', width: 220 },
  { title: 'State', key: 'state' },
  { title: 'Rules', key: 'rules', align: 'end' },
  { title: 'People, 30 days', key: 'known', align: 'end' },
  { title: 'Unknown visitors', key: 'strangers', align: 'end' },
  { title: 'Labels', key: 'labels', sortable: false },
  { title: 'Used in', key: 'usedIn', sortable: false },
  { title: 'Changed', key: 'changedAt' },
  actionsColumn,
]

const things = useThingActions<JunctionRow>(api.junctions, {
  route: api.junctions.copy,
  path: '/library/junctions',
})
const { refused, leaving, actionsOf } = things

const making = ref(false)
const form = useForm(z.object({ name: libraryName }), { name: '' })
async function create(): Promise<void> {
  let made = 0
  const through = await form.submit(async ({ name }) => {
    made = (await call(api.junctions.create, { body: { name, content: junctionContent.parse({}) } })).id
  })
  if (through) await router.push(`/library/junctions/${made}`)
}
</script>

<template>
  <DataScreen title="Junctions" :columns="columns" :rows="rows" :problem="problem" :search="typed">
    <template #tabs><LibraryTabs /></template>
    <template #action>
      <v-select v-model="state" label="State" :items="stateItems" width="170" />
      <v-select v-if="labels.length" v-model="label" label="Label" :items="labels" width="140" clearable />
      <v-text-field v-model="typed" label="Search by name" width="180" clearable />
      <v-btn color="secondary" @click="making = true">New junction</v-btn>
    </template>
    <template #above><ProblemNote :problem="leaving ? null : refused" /></template>
    <template #[`item.name`]="{ item }">
      <router-link :to="`/library/junctions/${item.id}`">{{ item.name }}</router-link>
      <div class="soft figures">/j/{{ item.path }}</div>
    </template>
    <template #[`item.state`]="{ item }">
      <ThingStateMark :state="item.state" :has-draft="item.hasDraft" />
    </template>
    <template #[`item.rules`]="{ item }"
      ><span class="figures">{{ item.rules }}</span></template
    >
    <template #[`item.known`]="{ item }"
      ><span class="figures">{{ countOf(item.known) }}</span></template
    >
    <template #[`item.strangers`]="{ item }"
      ><span class="figures">{{ countOf(item.strangers) }}</span></template
    >
    <template #[`item.labels`]="{ item }">
      <v-chip v-for="each in item.labels" :key="each">{{ each }}</v-chip>
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
      >No junctions yet. One link sends each person to the page that fits.
      <a href="#" @click.prevent="making = true">Make the first one</a>.</template
    >
    <template #more>
      <QuickDialog
        v-model="making"
        title="New junction"
        submit-label="Make junction"
        :problem="form.problem"
        :busy="form.busy"
        @submit="create"
      >
        <v-text-field v-bind="form.field('name')" label="Name" placeholder="What next?" autofocus />
        <p>It begins without rules: then everybody goes where “otherwise” leads.</p>
      </QuickDialog>
      <DeleteThing word="junction" :things="things">
        <p>Its address leads nowhere then, also in mail that was sent.</p>
      </DeleteThing>
    </template>
  </DataScreen>
</template>
