<script setup lang="ts">
import { mdiFilterOutline, mdiPlus } from '@mdi/js'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { contactList, mostTicked, peopleCount, type ContactSort } from '../../contract/audience.ts'
import type { Leaf } from '../../core/audience/condition.ts'
import { countryName } from '../../core/audience/country.ts'
import { segmentList } from '../../contract/segments.ts'
import { find, read } from '../api.ts'
import PageSteps from '../frame/PageSteps.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { useCursorPages } from '../paging.ts'
import { countOf, dayOf, peopleOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import AddPerson from './AddPerson.vue'
import BulkActions from './BulkActions.vue'
import MarketingStateMark from './MarketingStateMark.vue'
import PeopleTabs from './PeopleTabs.vue'
import SaveSegment from './SaveSegment.vue'
import SegmentBuilder from './SegmentBuilder.vue'
import { asGroup, type Group } from './subjects.ts'

const session = useSession()
const route = useRoute()
const router = useRouter()
const size = 50

const typed = ref('')
const search = refDebounced(typed, 200)
const sort = ref<ContactSort>('newest')
const building = ref(false)
const tree = ref<Group>({ kind: 'all', of: [] })
const settledTree = refDebounced(tree, 250)
const pages = useCursorPages(size)

const segmentId = computed(() => Number(route.query.segment) || null)
const { data: segments } = useLoaded((signal) => read('/segments', segmentList, signal), ['audience'])
const segment = computed(() => segments.value?.find(({ id }) => id === segmentId.value) ?? null)
watch(
  segment,
  (found, before) => {
    if (!found || found.id === before?.id) return
    tree.value = asGroup(found.tree)
    building.value = true
  },
  { immediate: true },
)

/** Another screen leads here with those who have a tag, or agreed to a topic. */
const led = computed((): Leaf | null => {
  const [tag, topic] = [Number(route.query.tag), Number(route.query.topic)]
  if (tag > 0) return { kind: 'hasTag', tag }
  return topic > 0 ? { kind: 'topic', topic } : null
})
watch(
  led,
  (found) => {
    if (!found) return
    tree.value = { kind: 'all', of: [found] }
    building.value = true
  },
  { immediate: true },
)

const who = computed(() => ({
  search: search.value,
  tree: settledTree.value.of.length > 0 ? settledTree.value : null,
}))
watch([who, sort], pages.reset)

/** Single people of those who match, whom something is to be done with. */
const ticked = ref(new Set<number>())
watch(who, () => (ticked.value = new Set()))
const meant = computed(() => (ticked.value.size > 0 ? { only: [...ticked.value] } : who.value))

const query = computed(() => ({ ...who.value, sort: sort.value, after: pages.after.value, size }))
const { data, problem, loading } = useLoaded(
  (signal) => find('/people/find', query.value, contactList, signal),
  ['audience'],
  () => query.value,
)
const { data: count } = useLoaded(
  (signal) => find('/people/count', who.value, peopleCount, signal),
  ['audience'],
  () => who.value,
)

const sorts: { value: ContactSort; title: string }[] = [
  { value: 'newest', title: 'Newest first' },
  { value: 'oldest', title: 'Oldest first' },
  { value: 'name', title: 'By name' },
  { value: 'address', title: 'By address' },
]
const narrowed = computed(() => search.value !== '' || who.value.tree !== null)

async function everybody(): Promise<void> {
  typed.value = ''
  tree.value = { kind: 'all', of: [] }
  building.value = false
  if (Object.keys(route.query).length > 0) await router.push('/people')
}

function tick(ids: readonly number[], are: boolean): void {
  const next = new Set(ticked.value)
  for (const id of ids)
    if (!are) next.delete(id)
    else if (next.size < mostTicked) next.add(id)
  ticked.value = next
}
const shownIds = computed(() => (data.value?.rows ?? []).map(({ id }) => id))
const allTicked = computed(
  () => shownIds.value.length > 0 && shownIds.value.every((id) => ticked.value.has(id)),
)
const isChecked = (event: Event): boolean => (event.target as HTMLInputElement).checked

const adding = ref(false)
const saving = ref(false)
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>People</h1>
      <PeopleTabs />
      <span class="grow" />
      <v-btn color="secondary" :prepend-icon="mdiPlus" @click="adding = true">Add a person</v-btn>
    </div>
    <ProblemNote :problem="problem" />
    <div class="panel">
      <div class="filters">
        <v-text-field v-model="typed" label="Part of a name or address" clearable @click:clear="typed = ''" />
        <v-select v-model="sort" :items="sorts" label="Order" />
        <v-btn
          variant="outlined"
          :prepend-icon="mdiFilterOutline"
          :aria-pressed="building"
          @click="building = !building"
        >
          {{ segment ? segment.name : 'Narrow down' }}
        </v-btn>
        <span class="grow" />
        <span v-if="count" class="soft" aria-live="polite">
          <template v-if="ticked.size">
            {{ countOf(ticked.size) }} ticked{{
              ticked.size === mostTicked ? ', the most,' : ''
            }}
            of </template
          >{{ peopleOf(count.people) }}
        </span>
        <BulkActions v-if="count" :who="meant" :people="ticked.size || count.people" />
      </div>
      <SegmentBuilder v-if="building" v-model="tree" @save="saving = true" />
      <div
        class="rows"
        :class="{ short: building }"
        :aria-busy="loading"
        tabindex="0"
        role="region"
        aria-label="People"
      >
        <table class="list">
          <thead>
            <tr>
              <th class="tick">
                <input
                  class="plain"
                  type="checkbox"
                  aria-label="Tick all on this page"
                  :checked="allTicked"
                  :indeterminate="!allTicked && shownIds.some((id) => ticked.has(id))"
                  @change="tick(shownIds, isChecked($event))"
                />
              </th>
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
              <td class="tick">
                <input
                  class="plain"
                  type="checkbox"
                  :aria-label="`Tick ${row.name || row.address}`"
                  :checked="ticked.has(row.id)"
                  @change="tick([row.id], isChecked($event))"
                />
              </td>
              <td>
                <router-link :to="`/people/${row.id}`">{{ row.name || 'No name' }}</router-link>
              </td>
              <td>{{ row.address }}</td>
              <td><MarketingStateMark :state="row.marketingState" /></td>
              <td>
                <span v-for="each in row.tags" :key="each.id" class="tag">{{ each.name }}</span>
              </td>
              <td class="country">{{ countryName(row.country ?? '') }}</td>
              <td class="figures">{{ dayOf(row.createdAt, session.zone) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="data?.rows.length === 0 && narrowed" class="none">
          Nobody matches. <v-btn size="small" variant="outlined" @click="everybody">Show everybody</v-btn>
        </p>
        <p v-else-if="data?.rows.length === 0" class="none">
          Nobody is on the list yet. People come in by the forms of your pages, by
          <router-link to="/people/imports">an import</router-link>, or by hand.
        </p>
        <p v-else-if="!data && !problem" class="none soft">Looking people up…</p>
      </div>
      <PageSteps v-if="data?.rows.length" :pages="pages" :shown="data.rows.length" :next="data.next" />
    </div>
    <AddPerson v-model="adding" />
    <SaveSegment v-model="saving" :tree="tree" :segment="segment" />
  </div>
</template>

<style scoped>
.filters {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 12px;
  padding: 12px 16px;
  border-bottom: 1px solid var(--rule);
}

.filters > .v-input {
  flex: 0 1 260px;
}

.filters > .v-input + .v-input {
  flex-basis: 160px;
}

.filters > .grow {
  flex: 1;
}

.rows {
  overflow: auto;
  max-height: calc(100vh - 270px);
  border-bottom: 1px solid var(--rule);
}

.rows.short {
  max-height: max(240px, calc(100vh - 480px));
}

table.list .tick {
  width: 20px;
  padding-right: 0;
}

.country {
  white-space: nowrap;
}
</style>
