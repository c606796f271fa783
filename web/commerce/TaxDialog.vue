<script setup lang="ts">
import { mdiClose } from '@mdi/js'
import * as api from '../../contract/api.ts'
import { countryCodes, countryName } from '../../core/audience/people/country.ts'
import { taxSettings, type TaxSettings } from '../../core/commerce/tax.ts'
import { call } from '../api.ts'
import { useForm } from '../form.ts'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import QuickDialog from '../frame/QuickDialog.vue'

/** How everything is taxed that the business sells: its country, and a rate for each country. */
const props = defineProps<{ tax: TaxSettings }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ saved: [] }>()
const countries = countryCodes().map((code) => ({ value: code, title: countryName(code) }))
const form = useForm(taxSettings, {
  ...props.tax,
  rates: props.tax.rates.map((each) => ({ ...each })),
})
type Rate = TaxSettings['rates'][number]
const setRate = (at: number, given: Partial<Rate>): void => {
  const { rates = [] } = form.values
  form.values.rates = rates.map((each, i) => (i === at ? { ...each, ...given } : each))
}
function add(): void {
  const { rates = [], home } = form.values
  const taken = new Set(rates.map(({ country }) => country))
  const next = home && !taken.has(home) ? home : countryCodes().find((code) => !taken.has(code))
  if (next) form.values.rates = [...rates, { country: next, rate: 2_000 }]
}
const remove = (at: number): void => {
  form.values.rates = (form.values.rates ?? []).toSpliced(at, 1)
}
async function save(): Promise<void> {
  if (!(await form.submit((body) => call(api.products.saveTax, { body })))) return
  open.value = false
  emit('saved')
}
const ways = { inside: 'Inside prices', onTop: 'On top of prices' } as const
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Tax"
    submit-label="Save tax"
    :problem="form.problem"
    :busy="form.busy"
    @submit="save"
  >
    <ChoiceToggle v-model="form.values.tax as 'inside' | 'onTop'" label="Tax is" :choices="ways" />
    <v-autocomplete
      v-bind="form.field('home')"
      label="Your country"
      :items="countries"
      hint="Its rate holds for countries without one of their own"
      persistent-hint
    />
    <div v-for="(each, at) in form.values.rates" :key="at" class="rate">
      <v-autocomplete
        :model-value="each.country"
        label="Country"
        :items="countries"
        @update:model-value="(country: string | null) => country && setRate(at, { country })"
      />
      <v-number-input
        :model-value="each.rate / 100"
        label="Rate, %"
        :min="0"
        :max="100"
        :precision="2"
        @update:model-value="(rate: number | null) => setRate(at, { rate: Math.round((rate ?? 0) * 100) })"
      />
      <v-btn
        :icon="mdiClose"
        size="x-small"
        variant="text"
        :aria-label="`Remove ${countryName(each.country)}`"
        @click="remove(at)"
      />
    </div>
    <p v-if="form.faults.rates" class="fault" role="alert">{{ form.faults.rates }}</p>
    <template #more><v-btn variant="outlined" @click="add">Add a rate</v-btn></template>
  </QuickDialog>
</template>

<style scoped>
.rate {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 150px auto;
  gap: 8px;
  align-items: start;
}

.fault {
  color: var(--stop);
}
</style>
