<script setup lang="ts">
import { mostTicked, type ContactRow } from '../../../contract/audience/people.ts'
import { countryName } from '../../../core/audience/people/country.ts'
import { sortedByServer, type Column, type SortItem } from '../../frame/columns.ts'
import { dayOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'
import MarketingStateMark from './MarketingStateMark.vue'

/**
 * A page of people, single ones of whom can be ticked. Only the rows that one sees are drawn. It is apart from the
 * filter above it, so that what is typed there does not draw the rows anew.
 */
defineProps<{
  rows: readonly ContactRow[]
  /** Nothing is there yet. */
  waiting: boolean
}>()
const ticked = defineModel<number[]>('ticked', { required: true })
const sortBy = defineModel<SortItem[]>('sortBy', { required: true })
defineSlots<{
  /** What is said when nobody is there. */
  default?(): unknown
}>()

const session = useSession()

const columns: Column<ContactRow>[] = [
  { title: 'Name', key: 'name' },
  { title: 'Address', key: 'address' },
  { title: 'Marketing', key: 'marketingState', sortable: false },
  { title: 'Tags', key: 'tags', sortable: false },
  { title: 'Country', key: 'country', sortable: false, value: ({ country }) => countryName(country ?? '') },
  { title: 'Added', key: 'createdAt', nowrap: true },
]
const asSorted = sortedByServer(columns)
/** Another page fills the rows that are there, which takes a third less than making new ones. */
const rowInPlace = ({ index }: { index: number }): { key: number } => ({ key: index })
</script>

<template>
  <v-data-table-virtual
    v-model:sort-by="sortBy"
    :model-value="ticked"
    :headers="columns as never"
    :items="rows as ContactRow[]"
    :custom-key-sort="asSorted"
    :loading="waiting"
    item-value="id"
    must-sort
    show-select
    select-all-label="Select all on this page"
    :row-props="rowInPlace"
    @update:model-value="(ids: number[]) => (ticked = ids.slice(0, mostTicked))"
  >
    <template #[`item.data-table-select`]="{ item, internalItem, isSelected, toggleSelect }">
      <v-checkbox-btn
        :model-value="isSelected([internalItem])"
        :aria-label="`Select ${item.name || item.address}`"
        @update:model-value="toggleSelect(internalItem)"
      />
    </template>
    <template #[`item.name`]="{ item }">
      <router-link :to="`/people/${item.id}`">{{ item.name || 'No name' }}</router-link>
    </template>
    <template #[`item.marketingState`]="{ item }">
      <MarketingStateMark :state="item.marketingState" />
    </template>
    <template #[`item.tags`]="{ item }">
      <v-chip v-for="(each, i) in item.tags" :key="i">{{ each.name }}</v-chip>
    </template>
    <template #[`item.createdAt`]="{ item }">
      <span class="figures">{{ dayOf(item.createdAt, session.zone) }}</span>
    </template>
    <template #no-data><slot /></template>
    <template #loader><span class="visually-hidden">Loading…</span></template>
    <template #loading><p class="none soft">Loading…</p></template>
  </v-data-table-virtual>
</template>
