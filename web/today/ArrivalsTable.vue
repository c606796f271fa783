<script setup lang="ts">
import type { Arrival } from '../../contract/today.ts'
import { whenOf } from '../wording.ts'

/** They stand in the order in which they came in, so nothing sorts them: a plain table is all that Today loads. */
defineProps<{ arrivals: Arrival[]; now: string; zone: string }>()
</script>

<template>
  <section class="panel" aria-labelledby="arrivals">
    <h2 id="arrivals">Arrivals</h2>
    <v-table v-if="arrivals.length" class="rows" hover fixed-header density="compact">
      <thead>
        <tr>
          <th scope="col">Time</th>
          <th scope="col">Person</th>
          <th scope="col">Source</th>
          <th scope="col">First tag</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="arrival in arrivals" :key="arrival.contact">
          <td class="when">
            <span class="figures">{{ whenOf(arrival.at, zone, now) }}</span>
          </td>
          <td class="who">
            <router-link :to="`/people/${arrival.contact}`">{{
              arrival.name || arrival.address
            }}</router-link>
          </td>
          <td>{{ arrival.cameBy }}</td>
          <td>
            <v-chip v-if="arrival.firstTag">{{ arrival.firstTag }}</v-chip>
          </td>
        </tr>
      </tbody>
    </v-table>
    <p v-else class="none">No arrivals yet. Publish a page and share its address.</p>
  </section>
</template>

<style scoped>
.rows {
  max-height: calc(100vh - 228px);
}

.when {
  white-space: nowrap;
}

/* Whoever gave no name is an address without a space to break at. */
.rows .who {
  overflow-wrap: anywhere;
}
</style>
