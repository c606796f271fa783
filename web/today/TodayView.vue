<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import * as api from '../../contract/api.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import StateMark from '../frame/StateMark.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'
import ArrivalsTable from './ArrivalsTable.vue'
import DeparturesBoard from './DeparturesBoard.vue'

const { data, problem, reload } = useLoaded(
  (signal) => call(api.today.view, { signal }),
  ['audience', 'followups', 'email', 'workspace', 'orders'],
)
useIntervalFn(() => void reload(), 30_000)

const { refused, busy, attempt } = useAttempts()
const retry = (id: number): Promise<boolean> =>
  attempt(async () => {
    await call(api.setAside.retry, { params: { id } })
    await reload()
  })
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Today</h1>
      <span v-if="data" class="soft">
        <span class="figures">{{ countOf(data.arrivedToday) }}</span> new today,
        <span class="figures">{{ countOf(data.arrived30Days) }}</span> in 30 days
      </span>
      <router-link v-if="data?.money" to="/results/orders" class="money">
        <span class="figures">{{ moneyWords(data.money.today) }}</span> in today,
        <span class="figures">{{ moneyWords(data.money.month) }}</span> in 30 days
      </router-link>
      <StateMark v-if="data && !data.needsAHand.length" tone="clear">nothing needs a hand</StateMark>
    </div>
    <ProblemNote :problem="problem ?? refused" />
    <template v-if="data">
      <section v-if="data.needsAHand.length" class="hand panel" aria-labelledby="hand">
        <h2 id="hand">Needs a hand</h2>
        <ul>
          <li v-for="need in data.needsAHand" :key="need.what">
            <router-link :to="need.to">{{ need.what }}</router-link>
            <span>{{ need.doing }}</span>
            <v-btn
              v-if="need.retry !== null"
              size="small"
              variant="outlined"
              :loading="busy"
              @click="retry(need.retry)"
            >
              Try again
            </v-btn>
          </li>
        </ul>
      </section>
      <div class="sides">
        <DeparturesBoard :departures="data.departures" :now="data.now" :zone="data.zone" />
        <ArrivalsTable :arrivals="data.arrivals" :now="data.now" :zone="data.zone" />
      </div>
    </template>
    <p v-else-if="!problem" class="soft">Loading…</p>
  </div>
</template>

<style scoped>
.sides {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 24px;
  align-items: start;
}

.hand {
  border-left: 3px solid var(--signal);
  margin-bottom: 20px;
}

.hand ul {
  list-style: none;
  margin: 0;
  padding: 8px 16px;
}

.hand li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 16px;
  padding: 4px 0;
}

.hand a {
  font-weight: 700;
  color: var(--signal);
}

@media (max-width: 900px) {
  .sides {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
