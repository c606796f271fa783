<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import type { FollowupState } from '../../contract/followups.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import NewRehearsalPerson from './NewRehearsalPerson.vue'

/** Takes somebody in rehearsal through what is live: real emails, real pages, a clock of their own. */
const props = defineProps<{ id: number; state: FollowupState }>()
const router = useRouter()
const { data: people, problem } = useLoaded(
  (signal) => call(api.people.find, { body: { rehearsal: 'only', sort: 'name', size: 200 }, signal }),
  ['audience'],
)

const { refused, busy, attempt } = useAttempts()
const chosen = ref<number | null>(null)
async function begin(person: number): Promise<void> {
  chosen.value = person
  if (await attempt(() => call(api.people.letIn, { params: { id: person }, body: { followup: props.id } })))
    await router.push(`/rehearsal/${person}`)
}

const adding = ref(false)
</script>

<template>
  <section class="panel" aria-labelledby="live">
    <div class="panel-head">
      <h2 id="live">Rehearse what is live</h2>
      <span class="grow" />
      <v-btn size="small" variant="outlined" :disabled="state !== 'live'" @click="adding = true">
        New rehearsal person
      </v-btn>
    </div>
    <div class="body">
      <ProblemNote :problem="problem ?? refused" />
      <p v-if="state !== 'live'">
        Only what is live can be rehearsed with real emails. Try this draft under <b>One person</b>, or make
        it live first.
      </p>
      <p v-else class="soft">
        They are let in as anybody else. Their emails go to the test inbox and count nowhere; their clock
        jumps from one moment to the next.
      </p>
      <ul v-if="people?.rows.length">
        <li v-for="person in people.rows" :key="person.id">
          <span class="who">
            <strong>{{ person.name || person.address }}</strong>
            <span class="soft">{{ person.address }}</span>
          </span>
          <v-btn
            size="small"
            color="primary"
            :disabled="state !== 'live'"
            :loading="busy && chosen === person.id"
            :aria-label="`Let ${person.name || person.address} in`"
            @click="begin(person.id)"
          >
            Let in
          </v-btn>
          <v-btn
            size="small"
            variant="text"
            :to="`/rehearsal/${person.id}`"
            :aria-label="`Open the stage of ${person.name || person.address}`"
          >
            Stage
          </v-btn>
        </li>
      </ul>
      <p v-else-if="people" class="soft">Nobody is in rehearsal yet.</p>
    </div>
    <NewRehearsalPerson v-if="adding" v-model="adding" submit-label="Add and let in" agreed @made="begin" />
  </section>
</template>

<style scoped>
.grow {
  flex: 1;
}

.body {
  padding: 12px 16px;
}

.body > p {
  margin: 0 0 12px;
  max-width: 70ch;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 6px 0;
}

li + li {
  border-top: 1px solid var(--rule);
}

.who {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
  flex: 1;
  min-width: 0;
  overflow-wrap: anywhere;
}
</style>
