<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import PageSteps from '../frame/PageSteps.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { useCursorPages } from '../paging.ts'
import { useSession } from '../workspace/session.ts'
import { whenOf } from '../wording.ts'
import FollowupHead from './FollowupHead.vue'
import { useFollowup } from './followupView.ts'
import { outcomeWords } from './outcomes.ts'

/** Every decision of a follow-up with the values looked at, newest first: the same rows as in each person's journal. */
const props = defineProps<{ id: number }>()
const session = useSession()
const now = useNowIso()
const params = { id: props.id }
const { view, steps } = useFollowup(props.id)
const pages = useCursorPages(100)
const { data, problem } = useLoaded(
  (signal) =>
    call(api.followups.journal, {
      params,
      query: { after: pages.after.value === null ? undefined : Number(pages.after.value) },
      signal,
    }),
  ['followups'],
  () => pages.after.value,
)
const titles = computed(() => new Map(steps.value.map(({ id, title }) => [id, title])))
</script>

<template>
  <div class="screen">
    <FollowupHead :id="id" :name="view?.name" />
    <ProblemNote :problem="problem" />
    <section class="panel" aria-label="Journal">
      <ol tabindex="0" aria-label="Decisions, newest first">
        <li v-for="line in data?.rows ?? []" :key="line.id">
          <time class="figures" :datetime="line.at">{{ whenOf(line.at, session.zone, now) }}</time>
          <router-link :to="`/people/${line.contact}`">{{ line.name }}</router-link>
          <span>
            <strong>{{ outcomeWords[line.outcome] }}</strong> {{ line.reason }}
            <span v-if="line.step && titles.get(line.step)" class="soft">
              {{ ` · at ${titles.get(line.step)}` }}
            </span>
          </span>
        </li>
        <li v-if="data && !data.rows.length" class="soft">Nothing has been decided yet.</li>
      </ol>
      <PageSteps v-if="data?.rows.length" :pages="pages" :shown="data.rows.length" :next="data.next" />
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

@media (max-width: 700px) {
  li {
    grid-template-columns: minmax(0, 1fr);
    gap: 0;
  }
}
</style>
