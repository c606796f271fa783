<script setup lang="ts">
import type { Departure } from '../../contract/today.ts'
import { countOf, whenOf } from '../wording.ts'

defineProps<{ departures: Departure[]; now: string; zone: string }>()
</script>

<template>
  <section class="board" aria-labelledby="departures">
    <h2 id="departures">Departures</h2>
    <div role="region" aria-label="Departures, by time">
      <v-table class="rows" theme="night" density="compact" fixed-header>
        <thead>
          <tr>
            <th scope="col">Time</th>
            <th scope="col">Email</th>
            <th scope="col" class="number">People</th>
            <th scope="col">From</th>
          </tr>
        </thead>
        <TransitionGroup tag="tbody" name="flip">
          <tr
            v-for="row in departures"
            :key="`${row.at} ${row.to} ${row.what} ${row.gone}`"
            :class="{ gone: row.gone }"
          >
            <td class="figures time">{{ whenOf(row.at, zone, now) }}</td>
            <td>
              {{ row.what }}
              <span v-if="row.gone" class="mark">gone</span>
              <span v-if="row.of && row.of > row.people" class="way">
                <progress :value="row.of - row.people" :max="row.of" :aria-label="`${row.what}, sent`" />
                {{ countOf(row.of - row.people) }} of {{ countOf(row.of) }} sent
              </span>
            </td>
            <td class="figures number">{{ countOf(row.people) }}</td>
            <td>
              <router-link v-if="row.to" :to="row.to">{{ row.from }}</router-link>
            </td>
          </tr>
        </TransitionGroup>
      </v-table>
      <p v-if="!departures.length" class="none">
        No departures planned. Emails appear here when people enter a
        <router-link to="/follow-ups">follow-up</router-link> or you send a broadcast.
      </p>
    </div>
  </section>
</template>

<style scoped>
/* The board is the one dark surface of the station, by day and by night. */
.board {
  background: #14323c;
  color: #f6f3ec;
  border-radius: 4px;
  overflow: hidden;
}

h2 {
  padding: 12px 16px;
}

.rows {
  max-height: calc(100vh - 228px);
}

.rows th {
  color: #b9c9cc;
}

.rows .time {
  white-space: nowrap;
  text-align: left;
  color: #f2b632;
}

.number {
  text-align: right;
}

a {
  color: inherit;
}

.rows .gone td {
  color: #b9c9cc;
}

.mark {
  border: 1px solid #b9c9cc;
  border-radius: 4px;
  padding: 0 5px;
  margin-left: 6px;
}

.way {
  display: block;
  color: #b9c9cc;
}

progress {
  width: 90px;
  height: 8px;
  accent-color: #f2b632;
}

.none {
  padding: 16px;
}

.flip-enter-active {
  transition: transform 0.25s;
  transform-origin: top;
}

.flip-enter-from {
  transform: scaleY(0);
}
</style>
