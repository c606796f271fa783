<script setup lang="ts">
import type { Arrival } from '../../contract/today.ts'
import { whenOf } from '../wording.ts'

defineProps<{ arrivals: Arrival[]; now: string; zone: string }>()

// They stand in the order in which they came in, which is what one looks here for.
const columns = [
  { title: 'Time', key: 'at', sortable: false, nowrap: true },
  { title: 'Person', key: 'name', sortable: false },
  { title: 'Source', key: 'cameBy', sortable: false },
  { title: 'First tag', key: 'firstTag', sortable: false },
]
</script>

<template>
  <section class="panel" aria-labelledby="arrivals">
    <h2 id="arrivals">Arrivals</h2>
    <v-data-table-virtual :headers="columns" :items="arrivals" item-value="contact" class="rows">
      <template #[`item.at`]="{ item }">
        <span class="figures">{{ whenOf(item.at, zone, now) }}</span>
      </template>
      <template #[`item.name`]="{ item }">
        <router-link :to="`/people/${item.contact}`">{{ item.name || item.address }}</router-link>
      </template>
      <template #[`item.firstTag`]="{ item }">
        <v-chip v-if="item.firstTag">{{ item.firstTag }}</v-chip>
      </template>
      <template #no-data>
        <p class="none">No arrivals yet. Publish a page and share its address.</p>
      </template>
    </v-data-table-virtual>
  </section>
</template>

<style scoped>
.rows {
  max-height: calc(100vh - 228px);
}
</style>
