<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import * as api from '../../contract/api.ts'
import type { InsideList, MovePeople } from '../../contract/followups.ts'
import { describeStep } from '../../core/followups/sentences.ts'
import { allSteps } from '../../core/followups/step.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import { useVocabulary } from '../audience/segments/vocabulary.ts'
import type { Column } from '../frame/columns.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { useSession } from '../workspace/session.ts'
import { peopleOf, whenOf } from '../wording.ts'
import FollowupTabs from './FollowupTabs.vue'

/** Who is inside, where, and when they go on; moved on by hand, or taken out. */
const props = defineProps<{ id: number }>()
const session = useSession()
const now = useNowIso()
const vocabulary = useVocabulary()
void vocabulary.reload()
const params = { id: props.id }
const { data: view, problem } = useLoaded((signal) => call(api.followups.view, { params, signal }), [])

const typed = ref('')
const step = ref<string | null>(null)
const places = ref<string[]>([])
const after = computed(() => places.value.at(-1))
watch([typed, step], () => (places.value = []))
const { data, reload } = useLoaded(
  (signal) =>
    call(api.followups.inside, {
      params,
      query: { search: typed.value, step: step.value ?? undefined, after: after.value, size: 50 },
      signal,
    }),
  ['followups'],
  () => [typed.value, step.value, after.value],
)

const steps = computed(() =>
  allSteps(view.value?.live?.steps ?? []).map((each) => ({
    value: each.id,
    title: describeStep(each, vocabulary.words.names).title,
  })),
)
const titleOf = (id: string): string => steps.value.find(({ value }) => value === id)?.title ?? id

type Row = InsideList['rows'][number]
const columns: Column<Row>[] = [
  { title: 'Person', key: 'name', sortable: false },
  { title: 'Stands at', key: 'step', sortable: false },
  { title: 'Since the start', key: 'startedAt', sortable: false, nowrap: true },
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
    const stay = left > 0 ? `; ${peopleOf(left)} stay, since it would lead back` : ''
    moved.value = to.where === 'out' ? `${peopleOf(count)} taken out.` : `${peopleOf(count)} moved${stay}.`
    chosen.value = []
    await reload()
  })
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>{{ view?.name ?? 'Follow-up' }}</h1>
      <FollowupTabs :id="id" />
      <span class="grow" />
      <v-select v-model="step" :items="steps" label="Stands at" clearable width="240" />
      <v-text-field v-model="typed" label="Search by name or address" width="240" clearable />
    </div>
    <ProblemNote :problem="problem ?? refused" />
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
        :loading="data === null"
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
        <template #no-data>Nobody is inside{{ typed || step ? ' who is looked for' : '' }}.</template>
      </v-data-table>
      <p v-if="places.length || data?.next" class="pages">
        <v-btn size="small" variant="text" :disabled="!places.length" @click="places = places.slice(0, -1)">
          Previous
        </v-btn>
        <v-btn
          size="small"
          variant="text"
          :disabled="!data?.next"
          @click="data?.next && (places = [...places, data.next])"
        >
          Next
        </v-btn>
      </p>
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

.pages {
  margin: 0;
  padding: 8px 16px;
}
</style>
