<script setup lang="ts">
import type { Arrival } from '../../contract/today.ts'
import { whenOf } from '../wording.ts'

defineProps<{ arrivals: Arrival[]; now: string; zone: string }>()
</script>

<template>
  <section class="panel" aria-labelledby="arrivals">
    <h2 id="arrivals">Arrivals</h2>
    <div class="rows" tabindex="0" role="region" aria-label="Arrivals, newest first">
      <table class="list">
        <thead>
          <tr>
            <th>Time</th>
            <th>Who</th>
            <th>Came by</th>
            <th>First tag</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in arrivals" :key="row.contact">
            <td class="figures time">{{ whenOf(row.at, zone, now) }}</td>
            <td>
              <router-link :to="`/people/${row.contact}`">{{ row.name || row.address }}</router-link>
            </td>
            <td>{{ row.cameBy }}</td>
            <td>
              <span v-if="row.firstTag" class="tag">{{ row.firstTag }}</span>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="!arrivals.length" class="none">
        Nobody has come in yet. Put a page live and send its address to a friend.
      </p>
    </div>
  </section>
</template>

<style scoped>
.rows {
  max-height: calc(100vh - 228px);
  overflow: auto;
}

.time {
  white-space: nowrap;
}

.none {
  padding: 16px;
}
</style>
