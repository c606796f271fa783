<script setup lang="ts">
import { computed, ref } from 'vue'
import type { CouponView } from '../../contract/coupons.ts'
import { countryCodes, countryName } from '../../core/audience/people/country.ts'
import { couponState } from '../../core/commerce/coupon.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import { offerOf } from '../../core/commerce/offer.ts'
import { paymentsOf } from '../../core/commerce/payments.ts'
import { priceName } from '../../core/commerce/priceWords.ts'
import type { ProductContent } from '../../core/commerce/product.ts'
import { rateFor, taxed, type TaxSettings } from '../../core/commerce/tax.ts'
import { dayOf } from '../wording.ts'

/** What somebody from a country pays for each price if they buy it now, payment by payment. */
const props = defineProps<{
  content: ProductContent
  selling: { currency: string; zone: string; tax: TaxSettings }
  coupons: readonly CouponView[]
  now: number
}>()
const emit = defineEmits<{ tax: [] }>()
const country = ref<string | null>(props.selling.tax.home)
const countries = countryCodes().map((code) => ({ value: code, title: countryName(code) }))
const usable = computed(() =>
  props.coupons
    .filter((each) => couponState(each, props.now) === 'open')
    .map(({ code }) => ({ value: code, title: code })),
)
const code = ref<string | null>(null)
const coupon = computed(() => props.coupons.find((each) => each.code === code.value) ?? null)
const rate = computed(() => (props.content.taxed ? rateFor(props.selling.tax, country.value) : 0))
const money = (amount: number): string => moneyWords({ amount, currency: props.selling.currency })

const shown = 3
const rows = computed(() =>
  props.content.prices.map((price) => {
    const { currency, zone, tax } = props.selling
    const { amount } = offerOf(price, props.now, 0, null)
    const goesOn = price.pays.by === 'subscription' && price.pays.payments === null
    const payments = paymentsOf(
      price.pays,
      { amount, currency, from: props.now, zone, coupon: coupon.value },
      shown + 1,
    ).map((each) => ({ ...each, ...taxed(each.amount, rate.value ?? 0, tax.tax) }))
    const sum = (of: 'net' | 'tax' | 'total'): number => payments.reduce((all, each) => all + each[of], 0)
    return {
      id: price.id,
      name: priceName(price, currency),
      when: [
        ...payments
          .slice(0, shown)
          .map(({ at, total }) => `${dayOf(new Date(at).toISOString(), zone)}: ${money(total)}`),
        ...(payments.length > shown ? ['and so on'] : []),
      ],
      // What goes on has no sum: the last payment that is shown stands for all that follow.
      net: goesOn ? (payments.at(-1)?.net ?? 0) : sum('net'),
      tax: goesOn ? (payments.at(-1)?.tax ?? 0) : sum('tax'),
      total: goesOn ? (payments.at(-1)?.total ?? 0) : sum('total'),
      each: goesOn ? ' each time' : '',
    }
  }),
)
const told = computed(() => {
  if (!props.content.taxed) return 'It is not taxed.'
  if (rate.value === null) return 'There is no tax rate yet.'
  const share = `${rate.value / 100} %`
  return props.selling.tax.tax === 'inside' ? `${share} tax is inside.` : `${share} tax comes on top.`
})
</script>

<template>
  <section class="panel" aria-labelledby="buyers-pay">
    <div class="panel-head">
      <h2 id="buyers-pay">What buyers pay</h2>
      <span class="grow" />
      <v-autocomplete
        v-model="country"
        class="country"
        label="A buyer from"
        :items="countries"
        clearable
        hide-details
      />
      <v-select
        v-if="usable.length"
        v-model="code"
        class="coupon"
        label="With the coupon"
        :items="usable"
        clearable
        hide-details
      />
      <v-btn size="small" variant="outlined" @click="emit('tax')">Tax</v-btn>
    </div>
    <p class="told">{{ told }}</p>
    <v-table v-if="rows.length">
      <thead>
        <tr>
          <th scope="col">Price</th>
          <th scope="col">Payments, if bought now</th>
          <th scope="col" class="amount">Net</th>
          <th scope="col" class="amount">Tax</th>
          <th scope="col" class="amount">Paid</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.id">
          <td>{{ row.name }}</td>
          <td class="figures when">
            <div v-for="line in row.when" :key="line">{{ line }}</div>
          </td>
          <td class="amount figures">{{ money(row.net) }}</td>
          <td class="amount figures">{{ money(row.tax) }}</td>
          <td class="amount figures">{{ money(row.total) }}{{ row.each }}</td>
        </tr>
      </tbody>
    </v-table>
  </section>
</template>

<style scoped>
.grow {
  flex: 1;
}

.country {
  max-width: 260px;
}

.coupon {
  max-width: 190px;
}

.told {
  margin: 0;
  padding: 10px 16px;
}

.amount {
  text-align: right;
}

td.when {
  padding-block: 8px;
  text-align: left;
}
</style>
