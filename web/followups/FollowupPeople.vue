<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import * as api from '../../contract/api.ts'
import type { InsideList, MovePeople } from '../../contract/followups.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import type { Column } from '../frame/columns.ts'
import PageSteps from '../frame/PageSteps.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { useCursorPages } from '../paging.ts'
import { useSession } from '../workspace/session.ts'
import { peopleOf, whenOf } from '../wording.ts'
import FollowupHead from './FollowupHead.vue'
import { useFollowup } from './followupView.ts'

/** Who is inside, where, and when they go on; moved on by hand, or taken out. */
const props = defineProps<{ id: number }>()
const session = useSession()
const now = useNowIso()
const params = { id: props.id }
const { view, problem, steps: running, titleOf } = useFollowup(props.id)

const typed = ref('')
const search = refDebounced(typed, 200)
const step = ref<string | null>(null)
const size = 50
const pages = useCursorPages(size)
watch([search, step], pages.reset)
const {
  data,
  problem: notLoaded,
  reload,
} = useLoaded(
  (signal) =>
    call(api.followups.inside, {
      params,
      query: {
        search: search.value,
        step: step.value ?? undefined,
        after: pages.after.value ?? undefined,
        size,
      },
      signal,
    }),
  ['followups'],
  () => [search.value, step.value, pages.after.value],
)

const steps = computed(() => running.value.map(({ id, title }) => ({ value: id, title })))

type Row = InsideList['rows'][number]
const columns: Column<Row>[] = [
  { title: 'Person', key: 'name', sortable: false },
  { title: 'Stands at', key: 'step', sortable: false },
  { title: 'Started', key: 'startedAt', sortable: false, nowrap: true },
  { title: 'Goes on', key: 'dueAt', sortable: false, nowrap: true },
]
const chosen = ref<number[]>([])
const target = ref<string | null>(null)
const { refused, busy, attempt } = useAttempts()
const moved = ref<string | null>(null)
async function move(to: MovePeople['to']): Promise<void> {
  const people = chosen.value
  await attempt(async () => {
    const { moved: count } = await call(api.followups.move, { params, body: { who: { people }, to } })
    const left = people.length - count
    const stay =
      left > 0 ? `; ${peopleOf(left)} ${left === 1 ? 'stays' : 'stay'}, since it would lead back` : ''
    moved.value = to.where === 'out' ? `${peopleOf(count)} taken out.` : `${peopleOf(count)} moved${stay}.`
    chosen.value = []
    await reload()
  })
}
</script>

<template>
  <div class="screen">
    <FollowupHead :id="id" :name="view?.name">
      <v-select v-model="step" :items="steps" label="Stands at" clearable width="240" />
      <v-text-field v-model="typed" label="Search by name or address" width="240" clearable />
    </FollowupHead>
    <ProblemNote :problem="problem ?? notLoaded ?? refused" />
    <div
      v-if="chosen.length"
      class="bulk panel"
      role="group"
      aria-label="What to do with those who are ticked"
    >
      <strong>{{ peopleOf(chosen.length) }}</strong>
      <v-btn size="small" variant="outlined" :loading="busy" @click="move({ where: 'next' })">Move on</v-btn>
      <v-select v-model="target" :items="steps" label="Skip ahead to" width="240" />
      <v-btn
        size="small"
        variant="outlined"
        :loading="busy"
        :disabled="target === null"
        @click="target !== null && move({ where: 'step', step: target })"
      >
        Skip ahead
      </v-btn>
      <v-btn size="small" color="error" variant="outlined" :loading="busy" @click="move({ where: 'out' })">
        Take out
      </v-btn>
    </div>
    <p v-if="moved" role="status">{{ moved }}</p>
    <div class="panel">
      <v-data-table
        v-model="chosen"
        :headers="columns as never"
        :items="data?.rows ?? []"
        :loading="data === null && !notLoaded"
        item-value="contact"
        show-select
        :items-per-page="-1"
        hide-default-footer
      >
        <template #[`item.name`]="{ item }">
          <router-link :to="`/people/${item.contact}`">{{ item.name || item.address }}</router-link>
          <span v-if="item.rehearsal" class="soft"> (rehearsal)</span>
        </template>
        <template #[`item.step`]="{ item }">
          {{ titleOf(item.step) }}
          <div v-if="item.setAside" class="aside">set aside: {{ item.setAside }}</div>
        </template>
        <template #[`item.startedAt`]="{ item }">
          <span class="figures">{{ whenOf(item.startedAt, session.zone, now) }}</span>
        </template>
        <template #[`item.dueAt`]="{ item }">
          <span class="figures">{{ item.dueAt ? whenOf(item.dueAt, session.zone, now) : 'now' }}</span>
        </template>
        <template #loader><span class="visually-hidden">Loading…</span></template>
        <template #loading><p class="none soft">Loading…</p></template>
        <template #no-data>Nobody is inside{{ typed || step ? ' who is looked for' : '' }}.</template>
      </v-data-table>
      <PageSteps v-if="data?.rows.length" :pages="pages" :shown="data.rows.length" :next="data.next" />
    </div>
  </div>
</template>

<style scoped>
.bulk {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
  padding: 10px 16px;
  margin-bottom: 12px;
}

.aside {
  color: var(--stop);
}
</style>
