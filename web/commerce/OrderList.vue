<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import * as api from '../../contract/api.ts'
import type { OrderShow } from '../../contract/orders.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import DataScreen from '../frame/DataScreen.vue'
import PageSteps from '../frame/PageSteps.vue'
import StateMark from '../frame/StateMark.vue'
import StationTabs from '../frame/StationTabs.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { useCursorPages } from '../paging.ts'
import { countOf, whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import BuyerLink from './BuyerLink.vue'
import { failureOf, orderMark, shows } from './orderStates.ts'

/** Who has bought what, the newest first. */
const session = useSession()
const now = useNowIso()
const show = ref<OrderShow>('all')
const route = useRoute()
const typed = ref(typeof route.query.search === 'string' ? route.query.search : '')
const search = refDebounced(typed, 200)
const pages = useCursorPages(50)
watch([show, search], pages.reset)
const query = computed(() => ({
  show: show.value,
  search: search.value,
  after: pages.after.value === null ? undefined : Number(pages.after.value),
}))
const { data, problem } = useLoaded(
  (signal) => call(api.orders.list, { query: query.value, signal }),
  ['orders'],
  () => query.value,
)
const { data: takings } = useLoaded((signal) => call(api.orders.takings, { signal }), ['orders'])
const next = computed(() => (data.value?.next ? String(data.value.next) : null))

const columns = [
  { title: 'Order', key: 'id', sortable: false },
  { title: 'Placed', key: 'placedAt', sortable: false, nowrap: true },
  { title: 'Buyer', key: 'name', sortable: false },
  { title: 'What', key: 'titles', sortable: false },
  { title: 'State', key: 'state', sortable: false },
  { title: 'Paid', key: 'total', sortable: false, align: 'end' as const },
]
const asking = ref(false)
const { refused, busy, attempt } = useAttempts()
const takeLive = computed(() => takings.value?.takes === 'live')
async function change(): Promise<void> {
  const takes = takeLive.value ? 'test' : 'live'
  if (await attempt(() => call(api.orders.setTakes, { body: { takes } }))) asking.value = false
}
</script>

<template>
  <DataScreen
    title="Orders"
    :columns="columns"
    :rows="data?.rows ?? null"
    :problem="problem ?? refused"
    :search="search"
    :style="{ '--above-rows': '300px' }"
  >
    <template #tabs><StationTabs of="Results" /></template>
    <template #action>
      <v-text-field v-model="typed" class="search" label="Search orders" clearable hide-details />
      <v-select v-model="show" class="show" label="Show" :items="shows" hide-details />
    </template>
    <template #above>
      <section v-if="takings" class="panel takings" aria-label="Money in">
        <p>
          <strong class="figures">{{
            moneyWords({ amount: takings.paid, currency: takings.currency })
          }}</strong>
          in 30 days, from {{ countOf(takings.orders) }} {{ takings.orders === 1 ? 'order' : 'orders' }}
          <span v-if="takings.refunded" class="soft"
            >· {{ moneyWords({ amount: takings.refunded, currency: takings.currency }) }} given back</span
          >
        </p>
        <span class="grow" />
        <StateMark :tone="takeLive ? 'clear' : 'lamp'">{{
          takeLive ? 'buyers pay with money' : 'test: no money moves'
        }}</StateMark>
        <v-btn size="small" variant="outlined" @click="asking = true">
          {{ takeLive ? 'Back to testing' : 'Take payments' }}
        </v-btn>
      </section>
    </template>
    <template #[`item.id`]="{ item }">
      <router-link :to="`/results/orders/${item.id}`" class="figures">{{ item.id }}</router-link>
    </template>
    <template #[`item.placedAt`]="{ item }">
      <span class="figures">{{ whenOf(item.placedAt, session.zone, now) }}</span>
    </template>
    <template #[`item.name`]="{ item }">
      <BuyerLink :contact="item.contact" :name="item.name" :address="item.address" />
    </template>
    <template #[`item.titles`]="{ item }">{{ item.titles.join(', ') }}</template>
    <template #[`item.state`]="{ item }">
      <StateMark :tone="orderMark(item).tone">{{ orderMark(item).words }}</StateMark>
      <span v-if="item.test" class="soft"> test</span>
      <small v-if="item.failure" class="soft why">{{ failureOf(item.failure) }}</small>
    </template>
    <template #[`item.total`]="{ item }">
      <span class="figures">{{ moneyWords({ amount: item.total, currency: item.currency }) }}</span>
    </template>
    <template #empty>Nothing here yet. Put an order form on a page, and buyers find it there.</template>
    <template #below>
      <PageSteps
        v-if="data && (next || pages.hasPrevious.value)"
        :pages="pages"
        :shown="data.rows.length"
        :next="next"
      />
    </template>
    <template #more>
      <v-dialog v-model="asking" max-width="460">
        <v-card :title="takeLive ? 'Back to testing?' : 'Take payments?'">
          <v-card-text>
            {{
              takeLive
                ? 'From then on nobody pays with money: test cards are taken, and orders count nowhere. What is under way is finished.'
                : 'From then on buyers pay with money, and orders count. Test the way first: as a rehearsal person, or with a test card.'
            }}
          </v-card-text>
          <v-card-actions>
            <v-spacer />
            <v-btn variant="text" @click="asking = false">Cancel</v-btn>
            <v-btn color="secondary" :loading="busy" @click="change">
              {{ takeLive ? 'Back to testing' : 'Take payments' }}
            </v-btn>
          </v-card-actions>
        </v-card>
      </v-dialog>
    </template>
  </DataScreen>
</template>

<style scoped>
.search {
  max-width: 220px;
}

.show {
  max-width: 170px;
}

.takings {
  margin-bottom: 16px;
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 10px 16px;
}

.takings .grow {
  flex: 1;
}

.takings p {
  margin: 0;
}

.why {
  display: block;
}
</style>
