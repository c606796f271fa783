<script setup lang="ts">
import { DateTime } from 'luxon'
import { computed, ref, watch } from 'vue'
import type { Moment } from '../../../contract/broadcasts.ts'
import DayInput from '../../frame/DayInput.vue'

/** When an email goes out: now, or at a local time of the business or of each reader. */
const props = defineProps<{ zone: string; now: string }>()
const moment = defineModel<Moment>({ required: true })

type Kind = 'now' | 'business' | 'reader'
const kind = ref<Kind>('now')
const tomorrow = DateTime.fromISO(props.now, { zone: props.zone }).plus({ days: 1 })
const day = ref<string | null>(tomorrow.toISODate())
const time = ref('09:00')
const fault = computed(() => (/^([01]\d|2[0-3]):[0-5]\d$/.test(time.value) ? '' : 'Use a time such as 09:30'))
watch([kind, day, time], () => {
  if (kind.value === 'now') moment.value = { when: 'now' }
  else if (day.value !== null && fault.value === '')
    moment.value = {
      when: 'at',
      local: `${day.value}T${time.value}`,
      readerZone: kind.value === 'reader',
    }
})
</script>

<template>
  <v-radio-group v-model="kind" aria-label="When it is sent" hide-details>
    <v-radio value="now" label="Now, with one minute in which you can call it back" />
    <v-radio value="business" :label="`At a time in ${zone}`" />
    <v-radio value="reader" label="At that time of day wherever each reader is" />
  </v-radio-group>
  <div v-if="kind !== 'now'" class="moment">
    <DayInput v-model="day" label="Date" />
    <v-text-field v-model="time" label="Time" :error-messages="fault" />
  </div>
</template>

<style scoped>
.moment {
  display: grid;
  grid-template-columns: 200px 120px;
  gap: 12px;
  margin: 8px 0 0 32px;
}
</style>
