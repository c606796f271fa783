<script setup lang="ts">
import { DateTime } from 'luxon'
import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import { detailEdit, type DetailEdit, type SharedDetailView } from '../../contract/sharedDetails.ts'
import type { DetailContent, DetailKind } from '../../core/blocks/sharedDetail.ts'
import { call } from '../api.ts'
import DeleteThing from './DeleteThing.vue'
import { useDeleting } from './thingActions.ts'
import { useEditDialog } from '../editDialog.ts'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import EditDelete from '../frame/EditDelete.vue'
import MomentInput from '../frame/MomentInput.vue'
import EditDialog from '../frame/EditDialog.vue'
import StateMark from '../frame/StateMark.vue'
import StationTabs from '../frame/StationTabs.vue'
import { useLoaded } from '../loading.ts'
import { useSession } from '../workspace/session.ts'
import PictureInput from './inspector/PictureInput.vue'
import { useSite } from './site.ts'

/** Named values that pages and emails say: changed here, they are changed everywhere. */
const session = useSession()
const library = useSite()
const { data, problem } = useLoaded(
  async (signal) => {
    if (library.site === null) await library.reload()
    return call(api.sharedDetails.list, { signal })
  },
  ['pages'],
)

const kinds: Readonly<Record<DetailKind, string>> = {
  text: 'Text',
  address: 'Address',
  moment: 'Date and time',
  picture: 'Picture',
}
const kindItems = (Object.keys(kinds) as DetailKind[]).map((value) => ({ value, title: kinds[value] }))
const fresh: Readonly<Record<DetailKind, () => object>> = {
  text: () => ({ kind: 'text', text: '' }),
  address: () => ({ kind: 'address', text: '' }),
  moment: () => ({ kind: 'moment', local: '', zone: session.zone }),
  picture: () => ({ kind: 'picture', picture: 0, alt: '' }),
}
const zones = Intl.supportedValuesOf('timeZone')

const empty = (): DetailEdit => ({ name: '', content: fresh.text() as DetailContent })
const dialog = useEditDialog(detailEdit, empty(), (id, body) =>
  id === null
    ? call(api.sharedDetails.create, { body })
    : call(api.sharedDetails.save, { params: { id }, body }),
)
const content = computed({
  get: () => dialog.form.values.content as DetailContent,
  set: (next: DetailContent) => (dialog.form.values.content = next),
})
const set = (next: object): void => {
  content.value = { ...content.value, ...next } as DetailContent
}
const kind = computed({
  get: () => content.value.kind,
  set: (next: DetailKind) => (content.value = fresh[next]() as DetailContent),
})
const faultOf = (key: string): string | undefined => dialog.form.faults[`content.${key}`]
/** The chosen date and time as an instant of the zone that stands beside it, for the input. */
const moment = computed({
  get: () =>
    content.value.kind === 'moment' && content.value.local
      ? DateTime.fromISO(content.value.local, { zone: content.value.zone }).toUTC().toISO()
      : null,
  set: (next: string | null) => {
    if (content.value.kind === 'moment')
      set({
        local: next
          ? DateTime.fromISO(next, { zone: content.value.zone }).toFormat("yyyy-MM-dd'T'HH:mm")
          : '',
      })
  },
})

const deleting = useDeleting<SharedDetailView>(api.sharedDetails.delete)
const { leaving } = deleting

const columns: Column<SharedDetailView>[] = [
  { title: 'Name', key: 'name' },
  { title: 'Type', key: 'content' },
  { title: 'Says', key: 'says' },
  { title: 'Used in', key: 'usedIn' },
  actionsColumn,
]
</script>

<template>
  <DataScreen title="Shared details" :columns="columns" :rows="data" :problem="problem">
    <template #tabs><StationTabs of="Library" /></template>
    <template #action>
      <v-btn color="secondary" @click="dialog.begin(null, empty())">New detail</v-btn>
    </template>
    <template #[`item.content`]="{ item }">{{ kinds[item.content.kind] }}</template>
    <template #[`item.says`]="{ item }">
      {{ item.says }}
      <StateMark v-if="item.past" tone="lamp">past</StateMark>
    </template>
    <template #[`item.usedIn`]="{ item }">
      <span v-if="item.usedIn.length">{{ item.usedIn.join(', ') }}</span>
      <span v-else class="soft">nothing yet</span>
    </template>
    <template #[`item.actions`]="{ item }">
      <EditDelete
        :name="item.name"
        @edit="dialog.begin(item.id, { name: item.name, content: { ...item.content } })"
        @delete="leaving = item"
      />
    </template>
    <template #empty>
      No shared details yet. What several pages and emails say, such as the day of a workshop or the name of a
      guest, is set here once and changed in one place.
    </template>
    <template #more>
      <EditDialog word="detail" :dialog="dialog">
        <v-text-field v-bind="dialog.form.field('name')" label="Name" placeholder="workshop day" />
        <v-select v-if="!dialog.id" v-model="kind" label="Type" :items="kindItems" />
        <v-text-field
          v-if="content.kind === 'text'"
          :model-value="content.text"
          label="Says"
          :error-messages="faultOf('text')"
          @update:model-value="(text: string) => set({ text })"
        />
        <v-textarea
          v-else-if="content.kind === 'address'"
          :model-value="content.text"
          label="Address"
          rows="3"
          :error-messages="faultOf('text')"
          @update:model-value="(text: string) => set({ text })"
        />
        <template v-else-if="content.kind === 'moment'">
          <MomentInput v-model="moment" label="Day" :zone="content.zone" />
          <p v-if="faultOf('local')" class="fault" role="alert">{{ faultOf('local') }}</p>
          <v-autocomplete
            :model-value="content.zone"
            label="Time zone"
            :items="zones"
            :error-messages="faultOf('zone')"
            @update:model-value="(zone: string | null) => set({ zone: zone ?? '' })"
          />
          <p class="soft">Readers whose time zone is known read it on their own clock.</p>
        </template>
        <template v-else>
          <PictureInput
            :model-value="content.picture || null"
            label="Picture"
            @update:model-value="(picture: number | null) => set({ picture: picture ?? 0 })"
          />
          <p v-if="faultOf('picture')" class="fault" role="alert">Choose a picture</p>
          <v-text-field
            :model-value="content.alt"
            label="What it shows"
            :error-messages="faultOf('alt')"
            @update:model-value="(alt: string) => set({ alt })"
          />
        </template>
      </EditDialog>
      <DeleteThing word="shared detail" :things="deleting"
        ><p>It can be deleted while nothing says it.</p></DeleteThing
      >
    </template>
  </DataScreen>
</template>

<style scoped>
.fault {
  color: rgb(var(--v-theme-error));
}
</style>
