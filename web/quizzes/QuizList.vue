<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { z } from 'zod'
import * as api from '../../contract/api.ts'
import { libraryName } from '../../contract/drafts.ts'
import type { QuizRow } from '../../contract/quizzes.ts'
import { quizStarts } from '../../core/quizzes/startingPoints.ts'
import { call } from '../api.ts'
import { newPartId } from '../blocks/editing.ts'
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

/** The quizzes of the Library. */
const router = useRouter()
const session = useSession()
const now = useNowIso()
const zone = computed(() => session.me?.business.zone ?? 'UTC')
const { data, problem } = useLoaded((signal) => call(api.quizzes.list, { signal }), ['pages', 'audience'])

const { typed, state, label, labels, rows } = useLibraryRows(data)

const columns: Column<QuizRow>[] = [
  { title: 'Name', key: 'name', width: 220 },
  { title: 'State', key: 'state' },
  { title: 'Questions', key: 'questions', align: 'end' },
  { title: 'Began, 30 days', key: 'began', align: 'end' },
  { title: 'Finished', key: 'finished', align: 'end' },
  { title: 'Gave address', key: 'known', align: 'end' },
  { title: 'Labels', key: 'labels', sortable: false },
  { title: 'Used in', key: 'usedIn', sortable: false },
  { title: 'Changed', key: 'changedAt' },
  actionsColumn,
]

const things = useThingActions<QuizRow>(api.quizzes, {
  route: api.quizzes.copy,
  path: '/library/quizzes',
})
const { refused, leaving, actionsOf } = things

const making = ref(false)
const form = useForm(z.object({ name: libraryName, start: z.string() }), { name: '', start: 'which' })
async function create(): Promise<void> {
  let made = 0
  const through = await form.submit(async ({ name, start }) => {
    const begun = quizStarts.find(({ id }) => id === start) ?? quizStarts[0]
    if (!begun) return
    made = (await call(api.quizzes.create, { body: { name, content: begun.make(newPartId) } })).id
  })
  if (through) await router.push(`/library/quizzes/${made}`)
}
</script>

<template>
  <DataScreen title="Quizzes" :columns="columns" :rows="rows" :problem="problem" :search="typed">
    <template #tabs><LibraryTabs /></template>
    <template #action>
      <v-select v-model="state" label="State" :items="stateItems" width="170" />
      <v-select v-if="labels.length" v-model="label" label="Label" :items="labels" width="140" clearable />
      <v-text-field v-model="typed" label="Search by name" width="180" clearable />
      <v-btn color="secondary" @click="making = true">New quiz</v-btn>
    </template>
    <template #above><ProblemNote :problem="leaving ? null : refused" /></template>
    <template #[`item.name`]="{ item }">
      <router-link :to="`/library/quizzes/${item.id}`">{{ item.name }}</router-link>
      <div class="soft figures">/q/{{ item.path }}</div>
    </template>
    <template #[`item.state`]="{ item }">
      <ThingStateMark :state="item.state" :has-draft="item.hasDraft" />
    </template>
    <template
      v-for="key in ['questions', 'began', 'finished', 'known'] as const"
      :key="key"
      #[`item.${key}`]="{ item }"
    >
      <span class="figures">{{ countOf(item[key]) }}</span>
    </template>
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
      >No quizzes yet. A few questions tell you what each person wants.
      <a href="#" @click.prevent="making = true">Make the first one</a>.</template
    >
    <template #more>
      <QuickDialog
        v-model="making"
        title="New quiz"
        submit-label="Make quiz"
        :problem="form.problem"
        :busy="form.busy"
        @submit="create"
      >
        <v-text-field v-bind="form.field('name')" label="Name" placeholder="Which one suits you?" autofocus />
        <v-radio-group v-bind="form.field('start')" label="Begin from" hide-details>
          <v-radio v-for="each in quizStarts" :key="each.id" :value="each.id">
            <template #label>
              <span>
                <strong>{{ each.name }}</strong><br /><span class="soft">{{ each.about }}</span>
              </span>
            </template>
          </v-radio>
        </v-radio-group>
      </QuickDialog>
      <DeleteThing word="quiz" :things="things">
        <p>All takes of it are deleted too, and its address leads nowhere, also in mail that was sent.</p>
      </DeleteThing>
    </template>
  </DataScreen>
</template>
