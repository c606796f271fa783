<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { contactList, tagList, type ContactSort } from '../../contract/audience.ts'
import { marketingStateWords, type MarketingState } from '../../core/audience/permission.ts'
import { queryOf, read } from '../api.ts'
import PageSteps from '../frame/PageSteps.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { dayOf, peopleOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import MarketingStateMark from './MarketingStateMark.vue'

const session = useSession()
const size = 50

const typed = ref('')
const search = refDebounced(typed, 200)
const state = ref<MarketingState>()
const tag = ref<number>()
const sort = ref<ContactSort>('newest')
const page = ref(1)
watch([search, state, tag, sort], () => (page.value = 1))

const query = computed(() => ({
  search: search.value,
  state: state.value,
  tag: tag.value,
  sort: sort.value,
  page: page.value,
  size,
}))
const { data, problem, loading } = useLoaded(
  (signal) => read(`/people${queryOf(query.value)}`, contactList, signal),
  ['audience'],
  () => query.value,
)
const { data: tags } = useLoaded((signal) => read('/tags', tagList, signal), ['audience'])

const states = Object.entries(marketingStateWords).map(([value, title]) => ({ value, title }))
const tagChoices = computed(() =>
  (tags.value ?? []).map(({ id, name, people }) => ({ value: id, title: `${name} (${people})` })),
)
const sorts: { value: ContactSort; title: string }[] = [
  { value: 'newest', title: 'Newest first' },
  { value: 'oldest', title: 'Oldest first' },
  { value: 'name', title: 'By name' },
  { value: 'address', title: 'By address' },
]
const narrowed = computed(() => search.value !== '' || state.value !== undefined || tag.value !== undefined)

function everybody(): void {
  typed.value = ''
  state.value = undefined
  tag.value = undefined
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>People</h1>
      <span v-if="data" class="soft">{{ peopleOf(data.total) }}{{ narrowed ? ' match' : '' }}</span>
    </div>
    <ProblemNote :problem="problem" />
    <div class="panel">
      <div class="filters">
        <v-text-field v-model="typed" label="Part of a name or address" clearable @click:clear="typed = ''" />
        <v-select v-model="state" :items="states" label="May be written to" clearable />
        <v-select v-model="tag" :items="tagChoices" label="Tag" clearable />
        <v-select v-model="sort" :items="sorts" label="Order" />
      </div>
      <div class="rows" :aria-busy="loading" tabindex="0" role="region" aria-label="People">
        <table class="list">
          <thead>
            <tr>
              <th>Name</th>
              <th>Address</th>
              <th>Marketing</th>
              <th>Tags</th>
              <th>Country</th>
              <th>Came in</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in data?.rows ?? []" :key="row.id">
              <td>
                <router-link :to="`/people/${row.id}`">{{ row.name || 'No name' }}</router-link>
              </td>
              <td>{{ row.address }}</td>
              <td><MarketingStateMark :state="row.marketingState" /></td>
              <td>
                <span v-for="each in row.tags" :key="each.id" class="tag">{{ each.name }}</span>
              </td>
              <td>{{ row.country }}</td>
              <td class="figures">{{ dayOf(row.createdAt, session.zone) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="data?.total === 0 && narrowed" class="none">
          Nobody matches. <v-btn size="small" variant="outlined" @click="everybody">Show everybody</v-btn>
        </p>
        <p v-else-if="data?.total === 0" class="none">
          Nobody is on the list yet. People come in by the forms of your pages.
        </p>
        <p v-else-if="!data && !problem" class="none soft">Looking people up…</p>
      </div>
      <PageSteps v-if="data" v-model="page" :total="data.total" :size="size" what="people" />
    </div>
  </div>
</template>

<style scoped>
.filters {
  display: grid;
  grid-template-columns: 2fr 1fr 1fr 1fr;
  gap: 12px;
  padding: 16px;
  border-bottom: 1px solid var(--rule);
}

.rows {
  overflow: auto;
  max-height: calc(100vh - 290px);
  border-bottom: 1px solid var(--rule);
}

.none {
  padding: 24px 16px;
}

@media (max-width: 800px) {
  .filters {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
