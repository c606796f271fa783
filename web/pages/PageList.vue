<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../../contract/api.ts'
import type { PageRow, PageState } from '../../contract/pages.ts'
import { pagePurpose, purposes, type PagePurpose } from '../../core/pages/page.ts'
import { wilson } from '../../core/results/wilson.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ActionMenu from '../frame/ActionMenu.vue'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { countOf, whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import LibraryTabs from './LibraryTabs.vue'
import NewPage from './NewPage.vue'
import { takeTurn } from './miniatureTurns.ts'
import PageMiniature from './PageMiniature.vue'
import PageStateMark from './PageStateMark.vue'

const router = useRouter()
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
const state = ref<PageState | 'current'>('current')
const purpose = ref<PagePurpose | null>(null)
const rows = computed(() => {
  const wanted = typed.value.trim().toLowerCase()
  return (
    data.value?.filter(
      (row) =>
        (state.value === 'current' ? row.state !== 'archived' : row.state === state.value) &&
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
  { title: 'Visitors, 30 days', key: 'visitors', align: 'end' },
  { title: 'Signed up', key: 'sent', align: 'end', value: (row) => row.sent ?? -1 },
  { title: 'Used in', key: 'usedIn', sortable: false },
  { title: 'Changed', key: 'changedAt' },
  actionsColumn,
]

/** Fewer visitors than this say little (common practice). */
const enough = 100
const percent = (share: number): string => `${(share * 100).toFixed(1)} %`
function rateOf({ sent, visitors }: PageRow): { words: string; interval: string } | null {
  if (sent === null) return null
  if (visitors < enough || sent > visitors) return { words: 'too few to read', interval: '' }
  const { low, high } = wilson(sent, visitors)
  return { words: percent(sent / visitors), interval: `95 % interval: ${percent(low)} to ${percent(high)}` }
}

const { refused, busy, attempt } = useAttempts()
const making = ref(false)
const leaving = ref<PageRow | null>(null)
const chosen = ref<number[]>([])

async function copy(row: PageRow): Promise<void> {
  await attempt(async () => {
    const { id } = await call(api.pages.copy, { params: { id: row.id } })
    await router.push(`/library/pages/${id}`)
  })
}
const archive = (ids: readonly number[], archived: boolean): Promise<boolean> =>
  attempt(async () => {
    for (const id of ids) await call(api.pages.archive, { params: { id }, body: { archived } })
    chosen.value = []
  })
async function remove(): Promise<void> {
  const id = leaving.value?.id ?? 0
  if (await attempt(() => call(api.pages.delete, { params: { id } }))) leaving.value = null
}

const actionsOf = (row: PageRow) => [
  { title: 'Duplicate', run: () => void copy(row) },
  row.state === 'archived'
    ? { title: 'Take out of the archive', run: () => void archive([row.id], false) }
    : { title: 'Archive', run: () => void archive([row.id], true) },
  { title: 'Delete', run: () => (leaving.value = row), destructive: true },
]

const stateItems = [
  { title: 'Drafts and live', value: 'current' },
  { title: 'Live', value: 'live' },
  { title: 'Drafts', value: 'draft' },
  { title: 'Archived', value: 'archived' },
]
const purposeItems = pagePurpose.options.map((value) => ({ value, title: purposes[value].name }))
const zone = computed(() => session.me?.business.zone ?? 'UTC')
</script>

<template>
  <DataScreen title="Pages" :columns="columns" :rows="rows" :problem="problem" :search="typed">
    <template #tabs><LibraryTabs /></template>
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
          <v-btn variant="outlined" size="small" :loading="busy" @click="archive(chosen, true)"
            >Archive</v-btn
          >
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
      <PageStateMark :state="item.state" :has-draft="item.hasDraft" />
    </template>
    <template #[`item.visitors`]="{ item }">
      <span class="figures">{{ countOf(item.visitors) }}</span>
    </template>
    <template #[`item.sent`]="{ item }">
      <span v-if="rateOf(item)" :title="rateOf(item)?.interval">
        <span class="figures">{{ countOf(item.sent ?? 0) }}</span>
        <div class="soft">{{ rateOf(item)?.words }}</div>
      </span>
    </template>
    <template #[`item.usedIn`]="{ item }">{{ item.usedIn.join(', ') }}</template>
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
      <QuickDialog
        :model-value="leaving !== null"
        :title="`Delete “${leaving?.name}”?`"
        submit-label="Delete page"
        destructive
        :problem="refused"
        :busy="busy"
        @update:model-value="leaving = null"
        @submit="remove"
      >
        <p>
          All its versions go with it. Archiving keeps them.
          {{
            leaving?.usedIn.length
              ? `These lead to it and will lead nowhere: ${leaving.usedIn.join(', ')}.`
              : ''
          }}
        </p>
      </QuickDialog>
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

.when {
  white-space: nowrap;
}
</style>
