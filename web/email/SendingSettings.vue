<script setup lang="ts">
import { ref } from 'vue'
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { noRules, sendingRules } from '../../core/email/sendingRules.ts'
import { useForm } from '../form.ts'
import { useLoaded } from '../loading.ts'
import OutboxTabs from './OutboxTabs.vue'
import SenderList from './SenderList.vue'

/** From whom mail comes, how much of it goes out, and when. */
const form = useForm(sendingRules, noRules)
const saved = ref(false)
const { data, problem } = useLoaded(async (signal) => {
  const rules = await call(api.sendingRules.view, { signal })
  form.reset(rules)
  return rules
}, [])

const days = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'].map(
  (title, i) => ({
    value: i + 1,
    title,
  }),
)
/** A limit that is switched off is none. */
const setQuiet = (on: boolean): void => {
  form.values.quiet = on ? { from: '21:00', to: '08:00' } : null
}
const numberOf = (typed: string): number | null => (typed.trim() === '' ? null : Number(typed))
const limit = (name: 'perMinute' | 'aDay' | 'aWeek') => ({
  modelValue: form.values[name] === null ? '' : String(form.values[name] ?? ''),
  errorMessages: form.faults[name] ?? [],
  'onUpdate:modelValue': (typed: string) => {
    form.values[name] = numberOf(typed ?? '')
  },
})
async function save(): Promise<void> {
  saved.value = await form.submit((body) => call(api.sendingRules.save, { body }))
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Sending</h1>
      <OutboxTabs />
    </div>
    <ProblemNote :problem="problem ?? form.problem" />
    <div class="two">
      <SenderList />
      <section class="panel" aria-labelledby="rules">
        <h2 id="rules">Rules for marketing</h2>
        <p class="soft">
          They hold for all follow-ups and broadcasts. What does not fit goes out at the next moment that
          fits, and the person’s journal says so. What somebody has asked for always goes at once.
        </p>
        <v-form v-if="data" class="rules" novalidate @submit.prevent="save">
          <v-switch
            :model-value="form.values.quiet !== null"
            label="Quiet hours, where the reader is"
            hide-details
            @update:model-value="(on) => setQuiet(on === true)"
          />
          <div v-if="form.values.quiet" class="pair">
            <v-text-field
              v-model="form.values.quiet.from"
              label="No marketing from"
              :error-messages="form.faults['quiet.from'] ?? []"
            />
            <v-text-field
              v-model="form.values.quiet.to"
              label="until"
              :error-messages="form.faults['quiet.to'] ?? []"
            />
          </div>
          <v-select
            v-model="form.values.weekdays"
            label="Days on which marketing goes out"
            :items="days"
            multiple
            :error-messages="form.faults.weekdays ?? []"
          />
          <div class="pair">
            <v-text-field
              v-bind="limit('aDay')"
              label="At most a day to one person"
              placeholder="no limit"
              persistent-placeholder
            />
            <v-text-field
              v-bind="limit('aWeek')"
              label="At most a week"
              placeholder="no limit"
              persistent-placeholder
            />
          </div>
          <v-text-field
            v-bind="limit('perMinute')"
            label="Messages a minute, of all kinds"
            placeholder="as many as the mail server takes"
            persistent-placeholder
          />
          <div class="save">
            <v-btn color="primary" type="submit" :loading="form.busy">Save rules</v-btn>
            <span v-if="saved" class="soft" role="status">saved</span>
          </div>
        </v-form>
      </section>
    </div>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr);
  gap: 16px;
  align-items: start;
}

.rules,
.panel > p {
  margin: 0;
  padding: 12px 16px;
}

.rules {
  display: grid;
  gap: 14px;
}

.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}

.save {
  display: flex;
  gap: 12px;
  align-items: center;
}
</style>
