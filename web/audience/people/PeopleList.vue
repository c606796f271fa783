<script setup lang="ts">
import { mdiFilterOutline, mdiPlus } from '@mdi/js'
import { refDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import * as api from '../../../contract/api.ts'
import { mostTicked, type ContactSort } from '../../../contract/audience/people.ts'
import type { Leaf } from '../../../core/audience/segments/condition.ts'
import { call } from '../../api.ts'
import type { SortItem } from '../../frame/columns.ts'
import PageSteps from '../../frame/PageSteps.vue'
import ProblemNote from '../../frame/ProblemNote.vue'
import StationTabs from '../../frame/StationTabs.vue'
import { useLoaded } from '../../loading.ts'
import { useCursorPages } from '../../paging.ts'
import { countOf, peopleOf } from '../../wording.ts'
import SaveSegment from '../segments/SaveSegment.vue'
import SegmentBuilder from '../segments/SegmentBuilder.vue'
import { useFilledIn } from '../segments/filledIn.ts'
import { asGroup, type Group } from '../segments/subjects.ts'
import AddPerson from './AddPerson.vue'
import BulkActions from './BulkActions.vue'
import PeopleTable from './PeopleTable.vue'

const route = useRoute()
const router = useRouter()
const size = 50

const typed = ref('')
const search = refDebounced(typed, 200)
const building = ref(false)
// A change makes a new tree: nobody has to watch the parts of this one.
const tree = shallowRef<Group>({ kind: 'all', of: [] })
const { settled: settledTree } = useFilledIn(tree)
const pages = useCursorPages(size)

/** How the head of the table sorts, as the list's orders. */
const sortBy = ref<SortItem[]>([{ key: 'createdAt', order: 'desc' }])
const orders: Readonly<Record<string, { asc: ContactSort; desc: ContactSort }>> = {
  createdAt: { asc: 'oldest', desc: 'newest' },
  name: { asc: 'name', desc: 'nameDesc' },
  address: { asc: 'address', desc: 'addressDesc' },
}
const sort = computed((): ContactSort => {
  const [by] = sortBy.value
  return (by && orders[by.key]?.[by.order]) ?? 'newest'
})

const segmentId = computed(() => Number(route.query.segment) || null)
const { data: segments } = useLoaded((signal) => call(api.segments.list, { signal }), ['audience'])
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
const linked = computed((): Leaf | null => {
  const [tag, topic] = [Number(route.query.tag), Number(route.query.topic)]
  if (tag > 0) return { kind: 'hasTag', tag }
  return topic > 0 ? { kind: 'topic', topic } : null
})
watch(
  linked,
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

/** Single people of those who match, to do something with. */
const ticked = ref<number[]>([])
watch(who, () => (ticked.value = []))
const meant = computed(() => (ticked.value.length > 0 ? { only: ticked.value } : who.value))

const query = computed(() => ({ ...who.value, sort: sort.value, after: pages.after.value, size }))
const { data, problem, loading } = useLoaded(
  (signal) => call(api.people.find, { body: query.value, signal }),
  ['audience'],
  () => query.value,
)
const { data: count } = useLoaded(
  (signal) => call(api.people.count, { body: who.value, signal }),
  ['audience'],
  () => who.value,
)
const filtered = computed(() => search.value !== '' || who.value.tree !== null)

async function clearFilter(): Promise<void> {
  typed.value = ''
  tree.value = { kind: 'all', of: [] }
  building.value = false
  if (Object.keys(route.query).length > 0) await router.push('/people')
}

const adding = ref(false)
const saving = ref(false)
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>People</h1>
      <StationTabs of="People" />
      <span class="grow" />
      <v-btn color="secondary" :prepend-icon="mdiPlus" @click="adding = true">Add person</v-btn>
    </div>
    <ProblemNote :problem="problem" />
    <div class="panel">
      <div class="filters">
        <v-text-field v-model="typed" label="Search by name or address" clearable />
        <v-btn
          variant="outlined"
          :prepend-icon="mdiFilterOutline"
          :aria-pressed="building"
          @click="building = !building"
        >
          {{ segment ? segment.name : 'Filter' }}
        </v-btn>
        <span class="grow" />
        <span v-if="count" class="soft" aria-live="polite">
          <template v-if="ticked.length">
            {{ countOf(ticked.length) }} selected{{ ticked.length === mostTicked ? ' (the maximum)' : '' }} of
          </template>
          {{ peopleOf(count.people) }}
        </span>
        <BulkActions v-if="count" :who="meant" :people="ticked.length || count.people" />
      </div>
      <SegmentBuilder v-if="building" v-model="tree" @save="saving = true" />
      <!-- The wait stands outside: it changes with every step, and the rows only when they are there. -->
      <div :aria-busy="loading">
        <PeopleTable
          v-model:ticked="ticked"
          v-model:sort-by="sortBy"
          :rows="data?.rows ?? []"
          :waiting="data === null && !problem"
          class="rows"
          :class="{ short: building }"
        >
          <p v-if="filtered" class="none">
            No results. <v-btn size="small" variant="outlined" @click="clearFilter">Clear filter</v-btn>
          </p>
          <p v-else class="none">
            Nobody yet. People arrive through the forms on your pages, through
            <router-link to="/people/imports">an import</router-link>, or when you add them here.
          </p>
        </PeopleTable>
      </div>
      <PageSteps v-if="data?.rows.length" :pages="pages" :shown="data.rows.length" :next="data.next" />
    </div>
    <AddPerson v-if="adding" v-model="adding" />
    <SaveSegment v-if="saving" v-model="saving" :tree="tree" :segment="segment" />
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

.filters > .grow {
  flex: 1;
}

.rows {
  max-height: calc(100vh - 270px);
}

.rows.short {
  max-height: max(240px, calc(100vh - 480px));
}
</style>
