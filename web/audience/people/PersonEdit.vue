<script setup lang="ts">
import { reactive, ref, watch } from 'vue'
import { fieldList } from '../../../contract/audience/describing.ts'
import type { PersonView } from '../../../contract/audience/people.ts'
import { countryCodes, countryName } from '../../../core/audience/people/country.ts'
import { typedFieldValue } from '../../../core/audience/describing/field.ts'
import { change, read } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import QuickDialog from '../../frame/QuickDialog.vue'
import { useLoaded } from '../../loading.ts'
import OwnFieldInput from './OwnFieldInput.vue'

const props = defineProps<{ person: PersonView }>()
const open = defineModel<boolean>({ required: true })

const { data: fields } = useLoaded((signal) => read('/fields', fieldList, signal), ['audience'])
const own = ref<Record<string, string>>({})
const typed = reactive({
  address: '',
  firstName: '',
  lastName: '',
  phone: '',
  country: '',
  language: '',
  zone: '',
})
const { refused: problem, attempt } = useAttempts()

const known = (): Record<string, string> =>
  Object.fromEntries(
    (fields.value ?? []).map((field) => [field.id, typedFieldValue(field, props.person.fields[field.id])]),
  )

watch(open, () => {
  const { address, firstName, lastName, phone, country, language, zone } = props.person
  Object.assign(typed, {
    address,
    firstName,
    lastName,
    phone: phone ?? '',
    country: countryName(country ?? ''),
    language: language ?? '',
    zone: zone ?? '',
  })
  own.value = known()
  problem.value = null
})

const labels = {
  address: 'Email address',
  firstName: 'First name',
  lastName: 'Last name',
  phone: 'Phone, with +country',
  country: 'Country',
  language: 'Language',
  zone: 'Time zone',
} as const

const examples: Partial<Record<keyof typeof labels, string>> = { language: 'en', zone: 'Europe/Dublin' }
const lists: Partial<Record<keyof typeof labels, string>> = { country: 'all-countries', zone: 'all-zones' }
const countries = countryCodes().map(countryName)
const zones = Intl.supportedValuesOf('timeZone')

async function save(): Promise<void> {
  const before = known()
  const changed = Object.entries(own.value).filter(([id, value]) => value !== before[id])
  const wish = { ...typed, fields: Object.fromEntries(changed) }
  open.value = !(await attempt(() => change(`/people/${props.person.id}`, wish)))
}
</script>

<template>
  <QuickDialog v-model="open" title="Change what is known" does="Save" :problem="problem" @done="save">
    <div class="two">
      <label v-for="(label, name) in labels" :key="name" class="field" :class="{ wide: name === 'address' }">
        {{ label }}
        <input v-model="typed[name]" class="plain" :list="lists[name]" :placeholder="examples[name]" />
        <span v-if="problem?.fields?.[name]" class="fault">{{ problem.fields[name] }}</span>
      </label>
      <OwnFieldInput
        v-for="field in (fields ?? []).filter(({ archived }) => !archived)"
        :key="field.id"
        v-model="own[field.id]!"
        :field="field"
        :fault="problem?.fields?.[`fields.${field.id}`]"
      />
    </div>
    <datalist id="all-countries">
      <option v-for="country in countries" :key="country" :value="country" />
    </datalist>
    <datalist id="all-zones">
      <option v-for="zone in zones" :key="zone" :value="zone" />
    </datalist>
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
