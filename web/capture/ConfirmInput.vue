<script setup lang="ts">
import { countryCodes, countryName } from '../../core/audience/people/country.ts'
import type { Confirming, ConfirmWhen } from '../../core/capture/form.ts'
import FieldInput from '../blocks/inspector/FieldInput.vue'
import type { Field } from '../blocks/inspector/fields.ts'

/** Whether people confirm their address by a click in an email, and what they are told. */
const confirm = defineModel<Confirming>({ required: true })

const whenItems: { title: string; value: ConfirmWhen }[] = [
  { title: 'Never', value: 'never' },
  { title: 'Only when an address looks doubtful', value: 'whenUnsure' },
  { title: 'In some countries', value: 'byCountry' },
  { title: 'Always', value: 'always' },
]
const countries = countryCodes().map((code) => ({ value: code, title: countryName(code) }))

const inputs: readonly Field[] = [
  { path: 'letter.subject', label: 'Subject of the email', as: 'line' },
  { path: 'letter.words', label: 'What the email says', as: 'sentences' },
  { path: 'letter.button', label: 'Its button', as: 'line' },
  {
    path: 'click',
    label: 'The link in it',
    as: 'choice',
    items: [
      { title: 'Asks once more, by a button', value: 'button' },
      { title: 'Confirms at once', value: 'atOnce' },
    ],
    hint: 'Scanners of mail open links too.',
  },
  { path: 'remind', label: 'Write once more after a day', as: 'yes' },
  { path: 'waiting.title', label: 'Heading until then', as: 'line' },
  { path: 'waiting.words', label: 'What is said until then', as: 'sentences' },
  { path: 'waitingTag', label: 'Tag until then', as: 'thing', thing: 'tag' },
  { path: 'confirmedTag', label: 'Tag once confirmed', as: 'thing', thing: 'tag' },
  { path: 'next', label: 'The click leads to', as: 'target' },
]
</script>

<template>
  <div class="confirm">
    <v-select
      label="People confirm their address"
      :items="whenItems"
      :model-value="confirm.when"
      @update:model-value="(when: ConfirmWhen) => (confirm = { ...confirm, when })"
    />
    <v-autocomplete
      v-if="confirm.when === 'byCountry'"
      :model-value="confirm.countries"
      label="Countries"
      :items="countries"
      multiple
      chips
      closable-chips
      @update:model-value="(chosen: string[]) => (confirm = { ...confirm, countries: chosen })"
    />
    <template v-if="confirm.when !== 'never'">
      <FieldInput
        v-for="input in inputs"
        :key="input.path"
        :field="input"
        :of="confirm"
        @update:of="(next: object) => (confirm = next as Confirming)"
      />
    </template>
  </div>
</template>

<style scoped>
.confirm {
  display: grid;
  gap: 12px;
}
</style>
