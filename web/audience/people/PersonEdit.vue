<script setup lang="ts">
import { watch } from 'vue'
import * as api from '../../../contract/api.ts'
import { personEdit, type PersonView } from '../../../contract/audience/people.ts'
import { countryCodes, countryName } from '../../../core/audience/people/country.ts'
import { typedFieldValue } from '../../../core/audience/describing/field.ts'
import { call } from '../../api.ts'
import { useForm } from '../../form.ts'
import QuickDialog from '../../frame/QuickDialog.vue'
import { useLoaded } from '../../loading.ts'
import OwnFieldInput from './OwnFieldInput.vue'

const props = defineProps<{ person: PersonView }>()
const open = defineModel<boolean>({ required: true })

const { data: fields } = useLoaded((signal) => call(api.fields.list, { signal }), ['audience'])

/** The own fields as they can be typed. */
const known = (): Record<string, string> =>
  Object.fromEntries(
    (fields.value ?? []).map((field) => [field.id, typedFieldValue(field, props.person.fields[field.id])]),
  )
const typedOf = ({ address, firstName, lastName, phone, country, language, zone }: PersonView) => ({
  address,
  firstName,
  lastName,
  phone: phone ?? '',
  country: countryName(country ?? ''),
  language: language ?? '',
  zone: zone ?? '',
  fields: known(),
})
const form = useForm(personEdit, typedOf(props.person))
// The fields may arrive after the dialog has opened.
watch(fields, () => (form.values.fields = known()))

const countries = countryCodes().map(countryName)
const zones = Intl.supportedValuesOf('timeZone')

async function save(): Promise<void> {
  const before = known()
  const saved = await form.submit((typed) => {
    const changed = Object.entries(typed.fields).filter(([id, value]) => value !== before[id])
    const body = { ...typed, fields: Object.fromEntries(changed) }
    return call(api.people.edit, { params: { id: props.person.id }, body })
  })
  if (saved) open.value = false
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Edit person"
    submit-label="Save"
    :problem="form.problem"
    :busy="form.busy"
    :width="600"
    @submit="save"
  >
    <div class="two">
      <v-text-field v-bind="form.field('address')" label="Email address" class="wide" />
      <v-text-field v-bind="form.field('firstName')" label="First name" />
      <v-text-field v-bind="form.field('lastName')" label="Last name" />
      <v-text-field v-bind="form.field('phone')" label="Phone, with country code" />
      <v-combobox v-bind="form.field('country')" label="Country" :items="countries" />
      <v-text-field v-bind="form.field('language')" label="Language" placeholder="en" />
      <v-combobox v-bind="form.field('zone')" label="Time zone" :items="zones" placeholder="Europe/Dublin" />
      <OwnFieldInput
        v-for="field in (fields ?? []).filter(({ archived }) => !archived)"
        :key="field.id"
        :model-value="form.values.fields?.[field.id] ?? ''"
        :field="field"
        :fault="form.faults[`fields.${field.id}`]"
        @update:model-value="(typed) => (form.values.fields![field.id] = typed)"
      />
    </div>
  </QuickDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}

.wide {
  grid-column: 1 / -1;
}
</style>
