<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import PersonJournal from '../audience/people/PersonJournal.vue'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import MomentInput from '../frame/MomentInput.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useOnStage } from '../frame/rehearsal.ts'
import StateMark from '../frame/StateMark.vue'
import { useLoaded } from '../loading.ts'
import { whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import StageMailbox from './StageMailbox.vue'
import StageNext from './StageNext.vue'
import StagePages from './StagePages.vue'
import StartOver from './StartOver.vue'
import { useStagePerson } from './stagePerson.ts'

/** Somebody in rehearsal for real: what they see on one side, what the system did on the other, their clock above. */
const props = defineProps<{ id: number }>()
const session = useSession()
const { person, stage, problem, inside, clock } = useStagePerson(props.id)

useOnStage(person)

const { refused, goingTo, go, stop } = clock
const until = ref<string | null>(null)
watch(person, (seen) => (until.value ??= seen?.now ?? null))

const seen = ref<'mail' | 'pages'>('mail')
const startingOver = ref(false)

const { data: followups } = useLoaded((signal) => call(api.followups.list, { signal }), [])
const live = computed(() => (followups.value ?? []).filter(({ state }) => state === 'live'))
const entering = ref<number | null>(null)
const { refused: turnedAway, busy, attempt } = useAttempts()
async function enter(followup: number | null): Promise<void> {
  if (followup === null) return
  await attempt(() => call(api.people.letIn, { params: { id: props.id }, body: { followup } }))
  entering.value = null
}
</script>

<template>
  <div class="screen">
    <ProblemNote :problem="problem ?? refused ?? turnedAway" />
    <template v-if="person && stage">
      <div class="screen-head">
        <h1>
          <router-link :to="`/people/${id}`">{{ person.name || person.address }}</router-link>
        </h1>
        <StateMark tone="lamp">rehearsal</StateMark>
        <span class="grow" />
        <v-btn size="small" variant="text" @click="startingOver = true">Start over…</v-btn>
      </div>
      <div class="panel clock" role="group" aria-label="Their clock">
        <span>
          <span class="soft">Their clock</span>
          <strong class="figures">{{ whenOf(person.now, session.zone, new Date(0).toISOString()) }}</strong>
        </span>
        <v-btn color="primary" :loading="goingTo === ''" :disabled="goingTo !== null" @click="go()">
          Jump to next
        </v-btn>
        <MomentInput v-model="until" label="Date" :zone="session.zone" />
        <v-btn v-if="goingTo" variant="outlined" @click="stop">Stop here</v-btn>
        <v-btn v-else variant="outlined" :disabled="!until || goingTo !== null" @click="until && go(until)">
          Jump to this date
        </v-btn>
        <span class="grow" />
        <span v-if="goingTo" class="soft" role="status">On the way, moment by moment…</span>
      </div>
      <div class="two">
        <section class="panel sees" aria-labelledby="sees">
          <div class="panel-head">
            <h2 id="sees">What they see</h2>
            <ChoiceToggle
              v-model="seen"
              label="What they see"
              :choices="{ mail: 'Mailbox', pages: 'Pages' }"
            />
          </div>
          <StageMailbox
            v-if="seen === 'mail'"
            :mail="stage.mail"
            :problem="stage.mailProblem"
            :now="person.now"
          />
          <StagePages v-else :pages="stage.pages" />
        </section>
        <div class="log">
          <section class="panel next" aria-labelledby="next">
            <div class="panel-head"><h2 id="next">Next for them</h2></div>
            <StageNext :inside="inside" :now="person.now" />
            <v-autocomplete
              v-model="entering"
              class="into"
              :items="live"
              item-title="name"
              item-value="id"
              label="Let into a follow-up"
              :loading="busy"
              auto-select-first
              @update:model-value="enter"
            />
          </section>
          <PersonJournal :lines="person.journal" :now="person.now" />
        </div>
      </div>
      <StartOver v-if="startingOver" :person="person" @close="startingOver = false" />
    </template>
    <p v-else-if="!problem" class="soft">Loading…</p>
  </div>
</template>

<style scoped>
h1 a {
  color: inherit;
  text-decoration: none;
}

h1 a:hover {
  text-decoration: underline;
}

.clock {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: center;
  padding: 10px 16px;
  margin-bottom: 12px;
  border-top: 3px solid var(--lamp);
}

.clock strong {
  margin-left: 8px;
  font-size: 18px;
}

.two {
  display: grid;
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
  gap: 12px;
  align-items: start;
}

.log {
  display: grid;
  gap: 12px;
}

.into {
  margin: 0 16px 12px;
}

@media (max-width: 1000px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
