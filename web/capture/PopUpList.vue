<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { z } from 'zod'
import * as api from '../../contract/api.ts'
import { libraryName } from '../../contract/drafts.ts'
import type { PopUpRow } from '../../contract/popUps.ts'
import { composer } from '../../core/blocks/compose.ts'
import { popUpContent, type PopUpContent } from '../../core/capture/popUp.ts'
import { call } from '../api.ts'
import DeleteThing from '../blocks/DeleteThing.vue'
import { newPartId } from '../blocks/editing.ts'
import { useSite } from '../blocks/site.ts'
import { useThingActions } from '../blocks/thingActions.ts'
import ThingStateMark from '../blocks/ThingStateMark.vue'
import { choice, useForm } from '../form.ts'
import ActionMenu from '../frame/ActionMenu.vue'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import MoveButtons from '../frame/MoveButtons.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import StationTabs from '../frame/StationTabs.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { useSession } from '../workspace/session.ts'
import { countOf, whenOf } from '../wording.ts'

const router = useRouter()
const session = useSession()
const now = useNowIso()
const library = useSite()
onMounted(() => library.reload())
const zone = computed(() => session.me?.business.zone ?? 'UTC')
const { data, problem } = useLoaded((signal) => call(api.popUps.list, { signal }), ['pages', 'audience'])
const rows = computed(() => data.value?.filter(({ state }) => state !== 'archived' || archived.value) ?? null)
const archived = ref(false)

const shapes: Record<PopUpContent['shape'], string> = { centre: 'centre', corner: 'corner', bar: 'bar' }
const columns: Column<PopUpRow>[] = [
  { title: 'Order', key: 'order', sortable: false, width: 92 },
  { title: 'Name', key: 'name', sortable: false, width: 190 },
  { title: 'State', key: 'state', sortable: false },
  { title: 'Shape', key: 'shape', sortable: false },
  { title: 'Shows', key: 'rules', sortable: false },
  { title: 'Seen, 30 days', key: 'seen', align: 'end', sortable: false },
  { title: 'Sent', key: 'sent', align: 'end', sortable: false },
  { title: 'Changed', key: 'changedAt', sortable: false },
  actionsColumn,
]

const things = useThingActions<PopUpRow>(api.popUps, { route: api.popUps.copy, path: '/library/pop-ups' })
const { refused, leaving, attempt, actionsOf } = things

/** Of two that are due the first in this order opens. */
async function move(row: PopUpRow, by: -1 | 1): Promise<void> {
  const ids = (data.value ?? []).map(({ id }) => id)
  const from = ids.indexOf(row.id)
  const to = from + by
  if (to < 0 || to >= ids.length) return
  ids.splice(to, 0, ...ids.splice(from, 1))
  await attempt(() => call(api.popUps.order, { body: { popUps: ids } }))
}

const making = ref(false)
const newPopUp = z.object({ name: libraryName, form: choice('Choose a form') })
const form = useForm(newPopUp, { name: '', form: null })
const forms = computed(() => (library.site?.forms ?? []).map(({ id, name }) => ({ value: id, title: name })))

/** Begins with a heading, a sentence and the form. */
function contentOf(title: string, chosen: number): PopUpContent {
  const { block, text, section, document } = composer(newPartId)
  const heading = block('heading', { level: 2, words: title })
  return popUpContent.parse({
    title,
    document: document(section([{ blocks: [heading, text(''), block('form', { form: chosen })] }])),
    opens: { afterSeconds: 20 },
  })
}
async function create(): Promise<void> {
  let made = 0
  const through = await form.submit(async ({ name, form: chosen }) => {
    made = (await call(api.popUps.create, { body: { name, content: contentOf(name, chosen) } })).id
  })
  if (through) await router.push(`/library/pop-ups/${made}`)
}
</script>

<template>
  <DataScreen title="Pop-ups" :columns="columns" :rows="rows" :problem="problem">
    <template #tabs><StationTabs of="Library" /></template>
    <template #action>
      <v-checkbox v-model="archived" label="Archived too" />
      <v-btn color="secondary" @click="making = true">New pop-up</v-btn>
    </template>
    <template #above><ProblemNote :problem="leaving ? null : refused" /></template>
    <template #[`item.order`]="{ item }">
      <MoveButtons :name="item.name" @move="(by: -1 | 1) => move(item, by)" />
    </template>
    <template #[`item.name`]="{ item }">
      <router-link :to="`/library/pop-ups/${item.id}`">{{ item.name }}</router-link>
      <div class="soft">{{ item.forms.join(', ') || 'no form' }}</div>
    </template>
    <template #[`item.state`]="{ item }">
      <ThingStateMark :state="item.state" :has-draft="item.hasDraft" />
    </template>
    <template #[`item.shape`]="{ item }">{{ shapes[item.shape] }}</template>
    <template #[`item.rules`]="{ item }">{{ item.rules.join(', ') }}</template>
    <template #[`item.seen`]="{ item }">
      <span class="figures">{{ countOf(item.seen) }}</span>
    </template>
    <template #[`item.sent`]="{ item }">
      <span class="figures">{{ countOf(item.sent) }}</span>
    </template>
    <template #[`item.changedAt`]="{ item }">
      <span class="figures when">{{ whenOf(item.changedAt, zone, now) }}</span>
    </template>
    <template #[`item.actions`]="{ item }">
      <ActionMenu label="More" size="small" :actions="actionsOf(item)" />
    </template>
    <template #empty
      >No pop-ups yet. <a href="#" @click.prevent="making = true">Make the first one</a>.</template
    >
    <template #more>
      <QuickDialog
        v-model="making"
        title="New pop-up"
        submit-label="Make pop-up"
        :problem="form.problem"
        :busy="form.busy"
        @submit="create"
      >
        <v-text-field v-bind="form.field('name')" label="Name" autofocus />
        <v-autocomplete v-bind="form.field('form')" label="Form" :items="forms" />
        <p>It opens after 20 seconds until you say otherwise.</p>
      </QuickDialog>
      <DeleteThing word="pop-up" :things="things">
        <p>All its versions go with it. Its form stays in the Library.</p>
      </DeleteThing>
    </template>
  </DataScreen>
</template>
