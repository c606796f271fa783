<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../../contract/api.ts'
import { call } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import { useOnStage } from '../../frame/rehearsal.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import StateMark from '../../frame/StateMark.vue'
import { useLoaded } from '../../loading.ts'
import PersonActions from './PersonActions.vue'
import PersonConsent from './PersonConsent.vue'
import PersonFacts from './PersonFacts.vue'
import PersonJournal from './PersonJournal.vue'
import PersonMoney from './PersonMoney.vue'
import PersonScores from './PersonScores.vue'
import PersonWhereabouts from './PersonWhereabouts.vue'

const props = defineProps<{ id: number }>()

const subjects = ['audience', 'followups', 'email'] as const
const { data: person, problem } = useLoaded(
  (signal) => call(api.people.view, { params: { id: props.id }, signal }),
  subjects,
  () => props.id,
)
const { data: enrolments } = useLoaded(
  (signal) => call(api.people.enrolments, { params: { id: props.id }, signal }),
  subjects,
  () => props.id,
)

useOnStage(person)

const { refused, attempt } = useAttempts()
const shown = computed(() => problem.value ?? refused.value)
const setRehearsal = (on: boolean) =>
  attempt(() => call(api.people.setRehearsal, { params: { id: props.id }, body: { on } }))
</script>

<template>
  <div class="screen">
    <ProblemNote :problem="shown" />
    <template v-if="person">
      <div class="screen-head">
        <h1>{{ person.name || person.address }}</h1>
        <StateMark v-if="person.rehearsal" tone="lamp">rehearsal</StateMark>
        <PersonActions :person="person" />
      </div>
      <div class="three">
        <section class="panel who" aria-label="Profile">
          <PersonFacts :person="person" />
          <PersonConsent :person="person" />
          <h2>Rehearsal</h2>
          <p class="soft">
            {{
              person.rehearsal
                ? 'Not counted anywhere; their mail goes only to the test inbox; they have a clock of their own.'
                : 'Mark a made-up person to try follow-ups out with a clock of their own.'
            }}
          </p>
          <div class="rehearsal">
            <v-btn v-if="person.rehearsal" size="small" variant="outlined" :to="`/rehearsal/${person.id}`">
              Open the stage
            </v-btn>
            <v-btn size="small" variant="outlined" @click="setRehearsal(!person.rehearsal)">
              {{ person.rehearsal ? 'End rehearsal' : 'Mark as rehearsal' }}
            </v-btn>
          </div>
        </section>
        <PersonJournal :lines="person.journal" :now="person.now" />
        <div class="right">
          <PersonWhereabouts :person="person" :enrolments="enrolments ?? []" />
          <PersonMoney v-if="person.money" :money="person.money" :address="person.address" />
          <PersonScores :scores="person.scores" :now="person.now" />
        </div>
      </div>
    </template>
    <p v-else-if="!problem" class="soft">Loading…</p>
  </div>
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: 300px minmax(0, 1fr) 280px;
  gap: 20px;
  align-items: start;
}

.who {
  padding: 16px;
}

.rehearsal {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.right {
  display: grid;
  gap: 20px;
}

.who > h2 {
  font-size: 14px;
  line-height: 20px;
  margin: 16px 0 4px;
  padding: 0;
  border: 0;
}

@media (max-width: 1000px) {
  .three {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
