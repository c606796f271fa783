<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import type { CouponView } from '../../contract/coupons.ts'
import { coupon, couponState, type Coupon, type Off } from '../../core/commerce/coupon.ts'
import { couponWords } from '../../core/commerce/priceWords.ts'
import { describeSpan } from '../../core/followups/sentences.ts'
import { call } from '../api.ts'
import DeleteThing from '../blocks/DeleteThing.vue'
import { useDeleting } from '../blocks/thingActions.ts'
import { useEditDialog } from '../editDialog.ts'
import SpanInput from '../followups/SpanInput.vue'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import EditDelete from '../frame/EditDelete.vue'
import MomentInput from '../frame/MomentInput.vue'
import EditDialog from '../frame/EditDialog.vue'
import StateMark from '../frame/StateMark.vue'
import StationTabs from '../frame/StationTabs.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { countOf, whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import AmountInput from './AmountInput.vue'

/** Coupons: the words that buyers type, and what each takes off. */
const session = useSession()
const now = useNowIso()
const zone = computed(() => session.me?.business.zone ?? 'UTC')
const currency = computed(() => session.me?.business.currency ?? 'EUR')
const { data, problem } = useLoaded(
  async (signal) => ({
    coupons: await call(api.coupons.list, { signal }),
    products: await call(api.products.list, { signal }),
  }),
  ['pages'],
)
const products = computed(() =>
  (data.value?.products ?? []).map(({ id, name }) => ({ value: id, title: name })),
)

const plain: Off = { by: 'percent', percent: 20 }
const empty = (): Coupon => ({
  code: '',
  off: plain,
  everyTime: false,
  each: null,
  products: [],
  from: null,
  until: null,
  uses: null,
  usesEach: 1,
})
const dialog = useEditDialog(coupon, empty(), (id, body) =>
  id === null ? call(api.coupons.create, { body }) : call(api.coupons.save, { params: { id }, body }),
)
const begin = ({ id, productNames: _, changedAt: __, changedBy: ___, ...values }: CouponView): void =>
  dialog.begin(id, { ...values, products: [...values.products] })
const setOff = (next: Off): void => {
  dialog.form.values.off = next
}
const eachOwn = computed((): Coupon['each'] => dialog.form.values.each ?? null)
const setEach = (next: Coupon['each']): void => {
  dialog.form.values.each = next
}
const takesOff = computed((): Off => dialog.form.values.off)

const states = {
  open: { tone: 'clear', words: 'can be used' },
  notYet: { tone: 'soft', words: 'not yet' },
  over: { tone: 'stop', words: 'over' },
} as const
const stateOf = (item: CouponView) => states[couponState(item, Date.parse(now.value))]
function limits({ from, until, uses, usesEach, each }: CouponView): string {
  const when = (iso: string): string => whenOf(iso, zone.value, now.value)
  return [
    ...(from ? [`from ${when(from)}`] : []),
    ...(until ? [`until ${when(until)}`] : []),
    ...(uses === null ? [] : [`${countOf(uses)} in all`]),
    ...(each ? ['a code for each'] : usesEach === null ? [] : [`${countOf(usesEach)} a person`]),
    ...(each?.lasts ? [`good for ${describeSpan(each.lasts)}`] : []),
  ].join(', ')
}

type Row = CouponView & { name: string }
const rows = computed(() => data.value?.coupons.map((each): Row => ({ ...each, name: each.code })) ?? null)
const deleting = useDeleting<Row>(api.coupons.delete)
const { leaving } = deleting
const columns: Column<Row>[] = [
  { title: 'Code', key: 'code' },
  { title: 'Takes off', key: 'off', sortable: false },
  { title: 'Of', key: 'productNames', sortable: false },
  { title: 'Limits', key: 'limits', sortable: false },
  { title: 'State', key: 'state', sortable: false },
  actionsColumn,
]
</script>

<template>
  <DataScreen title="Coupons" :columns="columns" :rows="rows" :problem="problem">
    <template #tabs><StationTabs of="Library" /></template>
    <template #action>
      <v-btn color="secondary" @click="dialog.begin(null, empty())">New coupon</v-btn>
    </template>
    <template #[`item.code`]="{ item }"
      ><strong class="figures">{{ item.code }}</strong></template
    >
    <template #[`item.off`]="{ item }">{{ couponWords(item, currency) }}</template>
    <template #[`item.productNames`]="{ item }">
      {{ item.productNames.length ? item.productNames.join(', ') : 'all products' }}
    </template>
    <template #[`item.limits`]="{ item }">{{ limits(item) }}</template>
    <template #[`item.state`]="{ item }">
      <StateMark :tone="stateOf(item).tone">{{ stateOf(item).words }}</StateMark>
    </template>
    <template #[`item.actions`]="{ item }">
      <EditDelete :name="item.code" @edit="begin(item)" @delete="leaving = item" />
    </template>
    <template #empty>No coupons yet. A coupon takes a share or an amount off what buyers pay.</template>
    <template #more>
      <EditDialog word="coupon" :dialog="dialog">
        <v-text-field v-bind="dialog.form.field('code')" label="Code" placeholder="AUTUMN-20" autofocus />
        <v-select
          :model-value="takesOff.by"
          label="Takes off"
          :items="[
            { title: 'A share', value: 'percent' },
            { title: 'An amount', value: 'amount' },
          ]"
          @update:model-value="(by: Off['by']) => setOff(by === 'percent' ? plain : { by, amount: 1_000 })"
        />
        <v-number-input
          v-if="takesOff.by === 'percent'"
          :model-value="takesOff.percent"
          label="Share, %"
          :min="1"
          :max="100"
          @update:model-value="(percent: number | null) => setOff({ by: 'percent', percent: percent ?? 1 })"
        />
        <AmountInput
          v-else
          :model-value="takesOff.amount"
          label="Amount"
          :currency="currency"
          @update:model-value="(amount: number) => setOff({ by: 'amount', amount })"
        />
        <v-switch
          :model-value="eachOwn !== null"
          label="A code of its own for each person, good once"
          hint="Nobody types this code: steps of follow-ups make one from it for each person."
          persistent-hint
          @update:model-value="(wanted) => setEach(wanted ? { lasts: { amount: 3, unit: 'days' } } : null)"
        />
        <p v-if="eachOwn" class="span">
          Good for
          <SpanInput
            label="How long it is good"
            :model-value="eachOwn.lasts ?? { amount: 3, unit: 'days' }"
            @update:model-value="(lasts) => setEach({ lasts })"
          />
        </p>
        <v-switch
          v-bind="dialog.form.field('everyTime')"
          label="Every payment of a subscription, not the first alone"
        />
        <v-autocomplete
          v-bind="dialog.form.field('products')"
          label="Products"
          :items="products"
          multiple
          chips
          closable-chips
          hint="All when empty"
          persistent-hint
        />
        <MomentInput v-model="dialog.form.values.from as string | null" label="From" :zone="zone" />
        <MomentInput v-model="dialog.form.values.until as string | null" label="Until" :zone="zone" />
        <p v-if="dialog.form.faults.until" class="fault" role="alert">{{ dialog.form.faults.until }}</p>
        <div class="two">
          <v-number-input v-bind="dialog.form.field('uses')" label="Uses in all" :min="1" clearable />
          <v-number-input v-bind="dialog.form.field('usesEach')" label="Uses a person" :min="1" clearable />
        </div>
      </EditDialog>
      <DeleteThing word="coupon" :things="deleting"
        ><p>Who types it then is told that it does not exist.</p></DeleteThing
      >
    </template>
  </DataScreen>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}

.span {
  display: flex;
  align-items: center;
  gap: 6px;
  margin: 0;
}

.fault {
  color: var(--stop);
}
</style>
