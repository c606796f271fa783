<script setup lang="ts">
import { DateTime } from 'luxon'
import { computed, ref, watch } from 'vue'
import DayInput from './DayInput.vue'

/** A moment, chosen as a day and a time of the zone that is named beside it; kept as an instant. */
const props = defineProps<{ label: string; zone: string }>()
const moment = defineModel<string | null>({ required: true })

const local = computed(() => (moment.value ? DateTime.fromISO(moment.value, { zone: props.zone }) : null))
const day = ref<string | null>(null)
const time = ref('09:00')
watch(
  local,
  (at) => {
    if (!at) return
    day.value = at.toISODate()
    time.value = at.toFormat('HH:mm')
  },
  { immediate: true },
)

function set(nextDay: string | null, nextTime: string): void {
  day.value = nextDay
  time.value = nextTime
  if (nextDay === null) {
    moment.value = null
    return
  }
  const at = DateTime.fromISO(`${nextDay}T${nextTime}`, { zone: props.zone })
  if (/^\d\d:\d\d$/.test(nextTime) && at.isValid) moment.value = at.toUTC().toISO()
}
const fault = computed(() => (/^([01]\d|2[0-3]):[0-5]\d$/.test(time.value) ? '' : 'Use a time such as 09:30'))
</script>

<template>
  <div class="moment">
    <DayInput
      :model-value="day"
      :label="label"
      clearable
      @update:model-value="(next: string | null) => set(next, time)"
    />
    <v-text-field
      :model-value="time"
      label="Time"
      :error-messages="fault"
      :hint="zone"
      persistent-hint
      @update:model-value="(next: string) => set(day, next)"
    />
  </div>
</template>

<style scoped>
.moment {
  display: grid;
  grid-template-columns: minmax(160px, 1fr) 132px;
  gap: 8px;
  align-items: start;
}
</style>
