<script setup lang="ts">
import { ref } from 'vue'
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'

/** Why messages did not go out, with what to do about it. */
const { data, problem } = useLoaded((signal) => call(api.email.outboxProblems, { signal }), ['email'])
const { refused, busy, attempt } = useAttempts()
const told = ref('')
async function again(title: string): Promise<void> {
  await attempt(async () => {
    const { people } = await call(api.email.causeAgain, { body: { title } })
    told.value = `${countOf(people)} ${people === 1 ? 'message waits' : 'messages wait'} to be sent again.`
  })
}
</script>

<template>
  <section v-if="data?.length || told" class="panel causes" aria-label="Causes">
    <ProblemNote :problem="refused ?? problem" />
    <p v-if="told" role="status">{{ told }}</p>
    <ul>
      <li v-for="cause in data" :key="cause.title">
        <span class="figures">{{ countOf(cause.people) }}</span>
        <span>
          <strong>{{ cause.title }}</strong>
          <span class="soft">{{ cause.doing }}</span>
        </span>
        <v-btn
          v-if="cause.again"
          size="small"
          variant="outlined"
          :disabled="busy"
          :aria-label="`Send again: ${cause.title}`"
          @click="again(cause.title)"
        >
          Send again
        </v-btn>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.causes {
  margin-bottom: 16px;
}

ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  display: grid;
  grid-template-columns: 64px 1fr auto;
  gap: 16px;
  align-items: center;
  padding: 8px 16px;
  border-top: 1px solid var(--rule);
}

li:first-child {
  border-top: 0;
}

li .figures {
  font-size: 18px;
  text-align: right;
}

li strong {
  display: block;
}

p {
  margin: 0;
  padding: 8px 16px;
}
</style>
