<script setup lang="ts">
import { computed } from 'vue'
import type { Pays, PaysBy, Period, Price } from '../../core/commerce/price.ts'
import { mostTogether } from '../../core/commerce/price.ts'
import { mostPrices } from '../../core/commerce/product.ts'
import { fullAmount } from '../../core/commerce/offer.ts'
import type { Delivery } from '../../core/commerce/delivery.ts'
import ActionsInput from '../blocks/inspector/ActionsInput.vue'
import { useSite } from '../blocks/site.ts'
import MomentInput from '../frame/MomentInput.vue'
import MoveButtons from '../frame/MoveButtons.vue'
import AmountInput from './AmountInput.vue'
import DeadlineSelect from './DeadlineSelect.vue'
import { deliveryKinds } from './deliveryKinds.ts'
import PeriodInput from './PeriodInput.vue'
import type { ProductEditing } from './productEditing.ts'

/** One price: how it is paid, for how long and for how many. */
const props = defineProps<{ own: number; editing: ProductEditing; currency: string; zone: string }>()
const library = useSite()
const { content, price, setPrice, remove, duplicate, shift } = props.editing
const place = computed(() => content.value.prices.findIndex(({ id }) => id === price.value?.id))
const all = computed(() => content.value.prices.length)

const set = (given: Partial<Price>): void => {
  if (price.value) setPrice({ ...price.value, ...given }, Object.keys(given).join(' '))
}
const month: Period = { count: 1, unit: 'month' }
/** A way to pay, with what was typed for another one. */
const fresh: { readonly [K in PaysBy]: (amount: number) => Extract<Pays, { by: K }> } = {
  once: (amount) => ({ by: 'once', amount }),
  payments: (amount) => ({ by: 'payments', amount, payments: 3, every: month }),
  subscription: (amount) => ({ by: 'subscription', amount, every: month, trialDays: 0, payments: null }),
  choice: (amount) => ({ by: 'choice', least: 0, suggested: amount }),
  free: () => ({ by: 'free' }),
}
const ways: { title: string; value: PaysBy }[] = [
  { title: 'Once', value: 'once' },
  { title: 'In several payments', value: 'payments' },
  { title: 'As a subscription', value: 'subscription' },
  { title: 'Buyers choose how much', value: 'choice' },
  { title: 'Free', value: 'free' },
]
const plain = 1_000
function choose(by: PaysBy): void {
  if (!price.value) return
  const pays = fresh[by](fullAmount(price.value) || plain)
  set({ pays, ...((by === 'free' || by === 'choice') && { introductory: null }) })
}
const setPays = (given: Partial<Pays>): void => {
  if (price.value) set({ pays: { ...price.value.pays, ...given } as Pays })
}
const mayBeIntroductory = computed(() => price.value?.pays.by !== 'free' && price.value?.pays.by !== 'choice')
function setIntroductory(given: Partial<NonNullable<Price['introductory']>>): void {
  const now = price.value?.introductory
  if (now) set({ introductory: { ...now, ...given } })
}
const others = computed(() =>
  (library.site?.products ?? [])
    .filter(({ id }) => id !== props.own)
    .map(({ id, name, live }) => ({ value: id, title: live ? name : `${name} (not on sale)` })),
)
const begin = (wanted: boolean | null): void => {
  const amount = price.value ? Math.max(1, Math.round(fullAmount(price.value) * 0.6)) : plain
  set({ introductory: wanted ? { amount, until: null, first: null } : null })
}
</script>

<template>
  <div v-if="price" class="parts">
    <div class="head">
      <h2>Price {{ place + 1 }}</h2>
      <MoveButtons
        :first="place === 0"
        :last="place === all - 1"
        @move="(by: -1 | 1) => shift(price?.id ?? '', by)"
      />
    </div>
    <v-text-field
      :model-value="price.name"
      label="Name"
      :hint="all > 1 ? 'Buyers choose by it' : 'May stay empty while there is one price'"
      persistent-hint
      @update:model-value="(name: string) => set({ name })"
    />
    <v-select
      :model-value="price.pays.by"
      label="How it is paid"
      :items="ways"
      @update:model-value="choose"
    />
    <template v-if="price.pays.by === 'choice'">
      <AmountInput
        :model-value="price.pays.least"
        label="At least"
        :currency="currency"
        @update:model-value="(least: number) => setPays({ least })"
      />
      <AmountInput
        :model-value="price.pays.suggested"
        label="Suggested"
        :currency="currency"
        @update:model-value="(suggested: number) => setPays({ suggested })"
      />
    </template>
    <AmountInput
      v-else-if="price.pays.by !== 'free'"
      :model-value="price.pays.amount"
      :label="price.pays.by === 'subscription' ? 'Each time' : 'In all'"
      :currency="currency"
      @update:model-value="(amount: number) => setPays({ amount })"
    />
    <template v-if="price.pays.by === 'payments' || price.pays.by === 'subscription'">
      <v-number-input
        :model-value="price.pays.payments"
        label="Payments"
        :min="price.pays.by === 'payments' ? 2 : 1"
        :max="price.pays.by === 'payments' ? 36 : 1000"
        :clearable="price.pays.by === 'subscription'"
        :hint="price.pays.by === 'subscription' ? 'Until it is cancelled, when empty' : undefined"
        :persistent-hint="price.pays.by === 'subscription'"
        @update:model-value="(payments: number | null) => setPays({ payments } as Partial<Pays>)"
      />
      <PeriodInput
        :model-value="price.pays.every"
        @update:model-value="(every: Period) => setPays({ every })"
      />
    </template>
    <v-number-input
      v-if="price.pays.by === 'subscription'"
      :model-value="price.pays.trialDays"
      label="Days free at first"
      :min="0"
      :max="365"
      @update:model-value="(days: number | null) => setPays({ trialDays: days ?? 0 })"
    />
    <template v-if="mayBeIntroductory">
      <v-switch
        :model-value="price.introductory !== null"
        label="Introductory price"
        @update:model-value="begin"
      />
      <template v-if="price.introductory">
        <AmountInput
          :model-value="price.introductory.amount"
          label="At first"
          :currency="currency"
          @update:model-value="(amount: number) => setIntroductory({ amount })"
        />
        <v-number-input
          :model-value="price.introductory.first"
          label="For the first"
          :min="1"
          clearable
          @update:model-value="(first: number | null) => setIntroductory({ first })"
        />
        <MomentInput
          :model-value="price.introductory.until"
          label="Until"
          :zone="zone"
          @update:model-value="(until: string | null) => setIntroductory({ until })"
        />
      </template>
    </template>
    <h3>Sale</h3>
    <v-number-input
      :model-value="price.places"
      label="Places in all"
      :min="1"
      clearable
      @update:model-value="(places: number | null) => set({ places })"
    />
    <MomentInput
      :model-value="price.opens"
      label="Begins"
      :zone="zone"
      @update:model-value="(opens: string | null) => set({ opens })"
    />
    <MomentInput
      :model-value="price.closes"
      label="Ends"
      :zone="zone"
      @update:model-value="(closes: string | null) => set({ closes })"
    />
    <DeadlineSelect
      :model-value="price.deadline"
      label="Personal deadline"
      hint="Only for whom it runs"
      @update:model-value="(deadline: string | null) => set({ deadline })"
    />
    <h3>What it brings</h3>
    <v-switch
      :model-value="price.instead"
      label="Instead of what the product brings"
      :hint="
        price.instead
          ? 'Such as a service, or something kept elsewhere'
          : 'What is chosen here comes besides it, such as a bonus with the dearer price'
      "
      persistent-hint
      @update:model-value="(wanted: boolean | null) => set({ instead: wanted === true })"
    />
    <v-autocomplete
      :model-value="price.products"
      label="Sold together"
      hint="Buyers get these products too, paid by this price"
      persistent-hint
      :items="others"
      multiple
      chips
      closable-chips
      @update:model-value="(products: number[]) => set({ products: products.slice(0, mostTogether) })"
    />
    <ActionsInput
      :model-value="price.brings"
      :kinds="deliveryKinds"
      @update:model-value="(brings: readonly Delivery[]) => set({ brings: [...brings] })"
    />
    <div class="buttons">
      <v-btn size="small" variant="outlined" :disabled="all >= mostPrices" @click="duplicate(price.id)">
        Duplicate
      </v-btn>
      <v-btn size="small" variant="text" @click="remove(price.id)">Delete this price</v-btn>
    </div>
  </div>
</template>

<style scoped>
.parts p {
  margin: 0;
}

.parts {
  display: grid;
  gap: 10px;
}

.head,
.buttons {
  display: flex;
  align-items: center;
}

.head h2 {
  flex: 1;
}
</style>
