<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { FileView, PictureView } from '../../contract/pages.ts'
import { call, linkTo, upload } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ActionMenu from '../frame/ActionMenu.vue'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import StationTabs from '../frame/StationTabs.vue'
import { useLoaded } from '../loading.ts'
import { countOf, peopleOf, someOf } from '../wording.ts'
import FileEdit from './FileEdit.vue'

type Kind = 'pictures' | 'files'
type Row = (PictureView & { kind: 'pictures' }) | (FileView & { kind: 'files' })

const kind = ref<Kind>('pictures')
const kinds: Readonly<Record<Kind, string>> = { pictures: 'Pictures', files: 'Files' }
const { data, problem } = useLoaded(
  async (signal): Promise<Row[]> =>
    kind.value === 'pictures'
      ? (await call(api.files.pictures, { signal })).map((row) => ({ ...row, kind: 'pictures' as const }))
      : (await call(api.files.files, { signal })).map((row) => ({ ...row, kind: 'files' as const })),
  ['pages'],
  () => kind.value,
)
const typed = ref('')
const rows = computed(
  () =>
    data.value?.filter(({ name }) => name.toLowerCase().includes(typed.value.trim().toLowerCase())) ?? null,
)

const { refused, busy, attempt } = useAttempts()
const sending = ref<{ name: string; share: number } | null>(null)

/** Sends files one after the other, each with its progress. */
async function send(chosen: File | File[] | null, replaces?: number): Promise<void> {
  const route = kind.value === 'pictures' ? api.files.uploadPicture : api.files.uploadFile
  for (const file of [chosen ?? []].flat()) {
    sending.value = { name: file.name, share: 0 }
    const query = { name: file.name, ...(replaces !== undefined && { replaces }) }
    const through = await attempt(() =>
      upload(route, query, file, (share) => (sending.value = { name: file.name, share })),
    )
    if (!through) break
  }
  sending.value = null
  replacing.value = null
}

const replacing = ref<Row | null>(null)
const editing = ref<PictureView | null>(null)
const file = ref<FileView | null>(null)
const name = ref('')
const alt = ref('')
function begin(row: PictureView): void {
  editing.value = row
  name.value = row.name
  alt.value = row.alt
}
async function save(): Promise<void> {
  const id = editing.value?.id ?? 0
  const body = { name: name.value, alt: alt.value }
  if (await attempt(() => call(api.files.editPicture, { params: { id }, body }))) editing.value = null
}

const leaving = ref<Row | null>(null)
async function remove(): Promise<void> {
  const row = leaving.value
  if (!row) return
  const route = row.kind === 'pictures' ? api.files.deletePicture : api.files.deleteFile
  if (await attempt(() => call(route, { params: { id: row.id } }))) leaving.value = null
}

const actionsOf = (row: Row) => [
  { title: 'Edit', run: () => (row.kind === 'pictures' ? begin(row) : (file.value = row)) },
  { title: 'Replace', run: () => (replacing.value = row) },
  { title: 'Delete', run: () => (leaving.value = row), destructive: true },
]

const sizeOf = (bytes: number): string =>
  bytes < 1_000_000 ? `${countOf(Math.ceil(bytes / 1_000))} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`
const columns: Column<Row>[] = [
  { title: 'Look', key: 'look', sortable: false, width: 96 },
  { title: 'Name', key: 'name' },
  { title: 'What it shows', key: 'alt', sortable: false },
  { title: 'Size', key: 'size', align: 'end', sortable: false },
  { title: 'Downloads', key: 'downloads', align: 'end', sortable: false },
  { title: 'Used in', key: 'usedIn', sortable: false },
  actionsColumn,
]
</script>

<template>
  <DataScreen title="Pictures and files" :columns="columns" :rows="rows" :problem="problem" :search="typed">
    <template #tabs><StationTabs of="Library" /></template>
    <template #action>
      <v-text-field v-model="typed" label="Search by name" width="200" clearable />
    </template>
    <template #above>
      <div class="above">
        <ChoiceToggle v-model="kind" label="Kind" :choices="kinds" />
        <v-file-upload
          class="drop"
          browse-text="Choose files"
          multiple
          :aria-label="kind === 'pictures' ? 'Pictures to upload' : 'Files to upload'"
          :title="kind === 'pictures' ? 'Drop pictures here' : 'Drop files here'"
          :model-value="[]"
          @update:model-value="(files: File | File[] | null) => send(files)"
        />
      </div>
      <v-progress-linear
        v-if="sending"
        :model-value="sending.share * 100"
        :aria-label="`Uploading ${sending.name}`"
      />
      <ProblemNote :problem="leaving || editing || replacing ? null : refused" />
    </template>
    <template #[`item.look`]="{ item }">
      <img
        v-if="item.kind === 'pictures'"
        :src="`${item.base}-${item.widths[0]}.jpg`"
        alt=""
        width="72"
        height="48"
        loading="lazy"
      />
      <img
        v-else-if="item.hasPreview"
        :src="linkTo(api.files.preview, { params: { id: item.id } })"
        alt=""
        width="72"
        height="48"
        loading="lazy"
      />
    </template>
    <template #[`item.alt`]="{ item }">
      {{ item.kind === 'pictures' ? item.alt : item.mediaType }}
      <span v-if="item.kind === 'pictures' && !item.alt" class="soft">nothing said yet</span>
    </template>
    <template #[`item.size`]="{ item }">
      <span class="figures size">{{
        item.kind === 'pictures' ? `${item.width} × ${item.height}` : sizeOf(item.size)
      }}</span>
    </template>
    <template #[`item.downloads`]="{ item }">
      <template v-if="item.kind === 'files'">
        <span class="figures">{{ countOf(item.downloads) }}</span>
        <div class="soft">{{ peopleOf(item.people) }}</div>
      </template>
    </template>
    <template #[`item.usedIn`]="{ item }"
      ><span :title="item.usedIn.join(', ')">{{ someOf(item.usedIn) }}</span></template
    >
    <template #[`item.actions`]="{ item }">
      <ActionMenu label="More" size="small" :actions="actionsOf(item)" />
    </template>
    <template #empty>Nothing here yet. Drop something above.</template>
    <template #more>
      <FileEdit v-if="file" :key="file.id" :file="file" model-value @update:model-value="file = null" />
      <QuickDialog
        :model-value="editing !== null"
        title="Edit picture"
        submit-label="Save picture"
        :problem="refused"
        :busy="busy"
        @update:model-value="editing = null"
        @submit="save"
      >
        <v-text-field v-model="name" label="Name" autofocus />
        <v-textarea v-model="alt" label="What it shows" />
      </QuickDialog>
      <QuickDialog
        :model-value="replacing !== null"
        :title="`Replace “${replacing?.name}”`"
        submit-label="Close"
        :problem="refused"
        @update:model-value="replacing = null"
        @submit="replacing = null"
      >
        <p>Everything that shows or leads to it gets the new one; links stay as they are.</p>
        <v-file-upload
          title="Drop the new file here"
          aria-label="New file"
          :model-value="[]"
          @update:model-value="(files: File | File[] | null) => send(files, replacing?.id)"
        />
      </QuickDialog>
      <QuickDialog
        :model-value="leaving !== null"
        :title="`Delete “${leaving?.name}”?`"
        submit-label="Delete"
        destructive
        :problem="refused"
        :busy="busy"
        @update:model-value="leaving = null"
        @submit="remove"
      >
        <p>
          {{ leaving?.usedIn.length ? `It is used in ${leaving.usedIn.join(', ')}.` : 'It is used nowhere.' }}
        </p>
      </QuickDialog>
    </template>
  </DataScreen>
</template>

<style scoped>
.above {
  display: flex;
  gap: 16px;
  align-items: center;
  margin-bottom: 12px;
}

.drop {
  flex: 1;
}

img {
  object-fit: contain;
  border-radius: 4px;
  border: 1px solid var(--rule);
  display: block;
}

.size {
  white-space: nowrap;
}
</style>
