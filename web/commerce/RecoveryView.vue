<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { RecoveredCart } from '../../contract/orders.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import { call } from '../api.ts'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import FigureRow from '../frame/FigureRow.vue'
import ShareFigure from '../frame/ShareFigure.vue'
import StateMark from '../frame/StateMark.vue'
import StationTabs from '../frame/StationTabs.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { countOf, whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import BuyerLink from './BuyerLink.vue'
import RecoveryDialog from './RecoveryDialog.vue'

/** Who left the checkout, who was written to, and who came back. */
const session = useSession()
const now = useNowIso()
const days = ref<'30' | '90' | '365'>('30')
const { data, problem } = useLoaded(
  (signal) => call(api.orders.recovery, { query: { days: Number(days.value) }, signal }),
  ['orders', 'followups'],
  () => days.value,
)
const money = (amount: number): string => moneyWords({ amount, currency: data.value?.currency ?? 'EUR' })
/** A gain reads in percentage points, with its sign. */
const points = (of: number): string => `${of > 0 ? '+' : of < 0 ? '−' : ''}${Math.abs(of * 100).toFixed(0)}`
const setting = ref(false)
const marks = {
  back: { tone: 'clear', words: 'came back' },
  written: { tone: 'lamp', words: 'written to' },
  heldOut: { tone: 'soft', words: 'held out' },
  left: { tone: 'soft', words: 'left' },
} as const
const columns = computed((): Column<RecoveredCart>[] => [
  { title: 'Left', key: 'leftAt' },
  { title: 'Who', key: 'name' },
  { title: 'What was in it', key: 'titles', sortable: false },
  { title: 'State', key: 'state' },
  { ...actionsColumn, title: 'Paid', key: 'paid' },
])
</script>

<template>
  <DataScreen title="Left carts" :columns="columns" :rows="data?.rows ?? null" :problem="problem">
    <template #tabs><StationTabs of="Results" /></template>
    <template #action>
      <ChoiceToggle
        v-model="days"
        label="Time"
        :choices="{ '30': '30 days', '90': '90 days', '365': 'A year' }"
      />
      <v-btn variant="outlined" :disabled="!data" @click="setting = true">When a cart is left</v-btn>
    </template>
    <template #above>
      <FigureRow v-if="data" class="figurerow" label="In short">
        <div>
          <dt>Left the checkout</dt>
          <dd class="figures">{{ countOf(data.left) }}</dd>
        </div>
        <div>
          <dt>Were written to</dt>
          <dd><ShareFigure :share="data.written" count /></dd>
        </div>
        <div>
          <dt>Came back and bought</dt>
          <dd><ShareFigure :share="data.back" count /></dd>
        </div>
        <div>
          <dt>Which brought</dt>
          <dd class="figures">{{ money(data.money) }}</dd>
        </div>
      </FigureRow>
      <FigureRow v-if="data?.comparison" class="figurerow" label="What the emails bring">
        <div>
          <dt>Came back, of those who may be written to</dt>
          <dd><ShareFigure :share="data.comparison.mailed" count /></dd>
        </div>
        <div>
          <dt>Came back, of those who were held out</dt>
          <dd><ShareFigure :share="data.comparison.heldOut" count /></dd>
        </div>
        <div>
          <dt>What the emails bring, in points</dt>
          <dd class="figures">
            {{ points(data.comparison.gain.difference) }}
            <small class="soft"
              >({{ points(data.comparison.gain.low) }} to {{ points(data.comparison.gain.high) }})</small
            >
          </dd>
        </div>
        <div>
          <dt>Held out now</dt>
          <dd class="figures">{{ data.settings.heldOut }} %</dd>
        </div>
      </FigureRow>
    </template>
    <template #[`item.leftAt`]="{ item }">
      <span class="figures">{{ whenOf(item.leftAt, session.zone, now) }}</span>
    </template>
    <template #[`item.name`]="{ item }">
      <BuyerLink :contact="item.contact" :name="item.name" :address="item.address" />
    </template>
    <template #[`item.titles`]="{ item }">{{ item.titles.join(', ') }}</template>
    <template #[`item.state`]="{ item }">
      <StateMark :tone="marks[item.state].tone">{{ marks[item.state].words }}</StateMark>
    </template>
    <template #[`item.paid`]="{ item }">
      <span class="figures">{{ item.paid === null ? '' : money(item.paid) }}</span>
    </template>
    <template #empty>
      Nobody has left a checkout. Whoever types their address and does not buy
      {{ data ? `within ${data.settings.afterMinutes} minutes` : '' }} stands here.
    </template>
    <template #more>
      <RecoveryDialog v-if="setting && data" v-model="setting" :settings="data.settings" />
    </template>
  </DataScreen>
</template>

<style scoped>
.figurerow {
  margin-bottom: 16px;
}
</style>
