<script setup lang="ts">
import * as api from '../../contract/api.ts'
import { namedLinkEdit, type NamedLinkEdit, type NamedLinkView } from '../../contract/namedLinks.ts'
import { nowhere, type Target } from '../../core/blocks/target.ts'
import type { LinkAction } from '../../core/email/linkAction.ts'
import { call } from '../api.ts'
import ActionsInput from '../blocks/inspector/ActionsInput.vue'
import TargetInput from '../blocks/inspector/TargetInput.vue'
import { useSite } from '../blocks/site.ts'
import { targetWords } from '../blocks/targetWords.ts'
import DeleteThing from '../blocks/DeleteThing.vue'
import { useDeleting } from '../blocks/thingActions.ts'
import { useEditDialog } from '../editDialog.ts'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import EditDelete from '../frame/EditDelete.vue'
import EditDialog from '../frame/EditDialog.vue'
import StationTabs from '../frame/StationTabs.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'
import { linkActionKinds } from './linkActionKinds.ts'

/** Links that emails and pages share: where one leads and what a click does is set here, and counted over all of them. */
const library = useSite()
const { data, problem } = useLoaded(
  async (signal) => {
    if (library.site === null) await library.reload()
    return call(api.namedLinks.list, { signal })
  },
  ['pages', 'audience'],
)

const empty = (): NamedLinkEdit => ({ name: '', target: nowhere, actions: [] })
const dialog = useEditDialog(namedLinkEdit, empty(), async (id, body) => {
  await (id === null
    ? call(api.namedLinks.create, { body })
    : call(api.namedLinks.save, { params: { id }, body }))
  await library.reload()
})
const begin = ({ id, name, target, actions }: NamedLinkView): void =>
  dialog.begin(id, { name, target: { ...target }, actions: actions.map((each) => ({ ...each })) })

const deleting = useDeleting<NamedLinkView>(api.namedLinks.delete, library.reload)
const { leaving } = deleting
const leadsTo = ({ target }: NamedLinkView): string => (library.site ? targetWords(library.site, target) : '')
const doesWords = ({ actions }: NamedLinkView): string =>
  actions.map(({ does }) => linkActionKinds[does].title.toLowerCase()).join(', ') || 'nothing else'

const columns: Column<NamedLinkView>[] = [
  { title: 'Link', key: 'name' },
  { title: 'Leads to', key: 'target', sortable: false },
  { title: 'A click also', key: 'does', sortable: false },
  { title: 'People', key: 'people', align: 'end' },
  { title: 'Unknown visitors', key: 'strangers', align: 'end' },
  { title: 'Machines', key: 'machines', align: 'end' },
  { title: 'Used in', key: 'usedIn', sortable: false },
  actionsColumn,
]
</script>

<template>
  <DataScreen title="Links" :columns="columns" :rows="data" :problem="problem">
    <template #tabs><StationTabs of="Library" /></template>
    <template #action>
      <v-btn color="secondary" @click="dialog.begin(null, empty())">New link</v-btn>
    </template>
    <template #[`item.target`]="{ item }">{{ leadsTo(item) }}</template>
    <template #[`item.does`]="{ item }">{{ doesWords(item) }}</template>
    <template #[`item.people`]="{ item }"
      ><span class="figures">{{ countOf(item.people) }}</span></template
    >
    <template #[`item.strangers`]="{ item }"
      ><span class="figures">{{ countOf(item.strangers) }}</span></template
    >
    <template #[`item.machines`]="{ item }"
      ><span class="figures">{{ countOf(item.machines) }}</span></template
    >
    <template #[`item.usedIn`]="{ item }">
      <span v-if="item.usedIn.length">{{ item.usedIn.join(', ') }}</span>
      <span v-else class="soft">nothing yet</span>
    </template>
    <template #[`item.actions`]="{ item }">
      <EditDelete :name="item.name" @edit="begin(item)" @delete="leaving = item" />
    </template>
    <template #empty>
      No named links yet. A link that several emails and pages share is set here once: where it leads, what a
      click does, and how often it was followed in all of them.
    </template>
    <template #more>
      <EditDialog word="link" :dialog="dialog">
        <v-text-field v-bind="dialog.form.field('name')" label="Name" placeholder="Yes, that is me" />
        <TargetInput
          :model-value="dialog.form.values.target as Target"
          label="Leads to"
          :only="['page', 'file', 'quiz', 'junction', 'web', 'path']"
          @update:model-value="(target: Target) => (dialog.form.values.target = target)"
        />
        <h3>A click also</h3>
        <ActionsInput
          :kinds="linkActionKinds"
          :model-value="dialog.form.values.actions as readonly LinkAction[]"
          @update:model-value="
            (actions: readonly LinkAction[]) => (dialog.form.values.actions = [...actions])
          "
        />
        <p class="soft">It is done once for a person, by whoever came from their own mail.</p>
      </EditDialog>
      <DeleteThing word="link" :things="deleting"
        ><p>It can be deleted while nothing leads by it.</p></DeleteThing
      >
    </template>
  </DataScreen>
</template>

<style scoped>
h3 {
  margin: 0;
}
</style>
