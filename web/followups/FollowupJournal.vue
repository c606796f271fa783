<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import { describeStep } from '../../core/followups/sentences.ts'
import { allSteps } from '../../core/followups/step.ts'
import { call } from '../api.ts'
import { useVocabulary } from '../audience/segments/vocabulary.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { useSession } from '../workspace/session.ts'
import { whenOf } from '../wording.ts'
import FollowupTabs from './FollowupTabs.vue'
import { outcomeWords } from './outcomes.ts'

/** Every decision of a follow-up with the values looked at, newest first: the same rows as in each person's journal. */
const props = defineProps<{ id: number }>()
const session = useSession()
const now = useNowIso()
const vocabulary = useVocabulary()
void vocabulary.reload()
const params = { id: props.id }
const { data: view } = useLoaded((signal) => call(api.followups.view, { params, signal }), [])
const places = ref<number[]>([])
const after = computed(() => places.value.at(-1))
const { data, problem } = useLoaded(
  (signal) => call(api.followups.journal, { params, query: { after: after.value }, signal }),
  ['followups'],
  () => after.value,
)
const titles = computed(
  () =>
    new Map(
      allSteps(view.value?.live?.steps ?? []).map((step) => [
        step.id,
        describeStep(step, vocabulary.words.names).title,
      ]),
    ),
)
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>{{ view?.name ?? 'Follow-up' }}</h1>
      <FollowupTabs :id="id" />
    </div>
    <ProblemNote :problem="problem" />
    <section class="panel" aria-label="Journal">
      <ol tabindex="0" aria-label="Decisions, newest first">
        <li v-for="line in data?.rows ?? []" :key="line.id">
          <time class="figures" :datetime="line.at">{{ whenOf(line.at, session.zone, now) }}</time>
          <router-link :to="`/people/${line.contact}`">{{ line.name }}</router-link>
          <span>
            <strong>{{ outcomeWords[line.outcome] }}</strong> {{ line.reason }}
            <span v-if="line.step && titles.get(line.step)" class="soft">
              · at {{ titles.get(line.step) }}</span
            >
          </span>
        </li>
        <li v-if="data && !data.rows.length" class="soft">Nothing has been decided yet.</li>
      </ol>
      <p v-if="places.length || data?.next" class="pages">
        <v-btn size="small" variant="text" :disabled="!places.length" @click="places = places.slice(0, -1)">
          Newer
        </v-btn>
        <v-btn
          size="small"
          variant="text"
          :disabled="!data?.next"
          @click="data?.next && (places = [...places, data.next])"
        >
          Older
        </v-btn>
      </p>
    </section>
  </div>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 0;
  padding: 4px 0;
}

li {
  display: grid;
  grid-template-columns: 140px 180px minmax(0, 1fr);
  gap: 12px;
  padding: 5px 16px;
  overflow-wrap: anywhere;
}

.pages {
  margin: 0;
  padding: 8px 16px;
}

@media (max-width: 700px) {
  li {
    grid-template-columns: minmax(0, 1fr);
    gap: 0;
  }
}
</style>
