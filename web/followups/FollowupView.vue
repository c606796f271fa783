<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { countOf, peopleOf } from '../wording.ts'
import FollowupState from './FollowupState.vue'
import StepInspector from './StepInspector.vue'
import TimetableChart from './TimetableChart.vue'

const props = defineProps<{ id: number }>()

const { data, problem } = useLoaded(
  (signal) => call(api.followups.view, { params: { id: props.id }, signal }),
  ['followups'],
  () => props.id,
)
const selected = ref<string | null>(null)
const step = computed(() => data.value?.stepViews.find((each) => each.id === selected.value) ?? null)
const dated = ref(false)
</script>

<template>
  <div class="screen">
    <ProblemNote :problem="problem" />
    <template v-if="data">
      <div class="screen-head">
        <h1>{{ data.name }}</h1>
        <FollowupState :state="data.state" />
        <span class="soft"> {{ peopleOf(data.inside) }} inside, {{ countOf(data.finished) }} finished </span>
        <span class="grow" />
        <v-btn size="small" variant="outlined" :aria-pressed="dated" @click="dated = !dated">
          {{ dated ? 'Show elapsed time' : 'Show dates for a start now' }}
        </v-btn>
      </div>
      <p class="rule">
        Starts when {{ data.startsWhen.join(', or ') }}
        <a v-if="data.page" :href="data.page.path" target="_blank" rel="noopener">(open page)</a>.
        {{ data.reentry === 'never' ? 'Each person enters once.' : 'People can enter again after leaving.' }}
        Times are in {{ data.zone }}.
      </p>
      <div class="desk">
        <section class="panel" aria-label="Timetable">
          <TimetableChart
            v-model="selected"
            :timetable="data.timetable"
            :steps="data.stepViews"
            :dates="dated ? data.datedColumns : null"
          />
        </section>
        <StepInspector :step="step" />
      </div>
    </template>
    <p v-else-if="!problem" class="soft">Loading…</p>
  </div>
</template>

<style scoped>
.rule {
  margin-bottom: 16px;
}

.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: 20px;
  align-items: start;
}

@media (max-width: 1000px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
