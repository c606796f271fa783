<script setup lang="ts">
import type { PersonScore } from '../../../contract/audience/people.ts'
import { formatScore } from '../../../core/audience/segments/describe.ts'
import { whenOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'

/** Each score with what it is made of, and when time alone will change its band. */
defineProps<{ scores: PersonScore[]; now: string }>()
const session = useSession()

/** What has faded to nothing is shown as nothing. */
const signed = (points: number): string => (points >= 0.05 ? `+${formatScore(points)}` : formatScore(points))
</script>

<template>
  <section v-if="scores.length" class="panel" aria-labelledby="scores">
    <h2 id="scores">Score</h2>
    <div v-for="score in scores" :key="score.scorecard.id" class="body">
      <p class="head">
        <router-link :to="`/people/scorecards/${score.scorecard.id}`">{{ score.scorecard.name }}</router-link>
        <span
          ><strong class="figures">{{ formatScore(score.score) }}</strong> {{ score.band }}</span
        >
      </p>
      <ul v-if="score.reasons.length">
        <li v-for="(reason, i) in score.reasons.slice(0, 6)" :key="i">
          <span class="figures points">{{ signed(reason.points) }}</span>
          {{ reason.times > 1 ? `${reason.what}, ${reason.times} times` : reason.what }}
        </li>
      </ul>
      <p v-else class="soft">No points yet.</p>
      <p v-if="score.crossing" class="soft">
        {{ score.crossing.band }} from
        <span class="figures">{{ whenOf(score.crossing.at, session.zone, now) }}</span> if nothing else
        happens
      </p>
    </div>
  </section>
</template>

<style scoped>
.body {
  padding: 12px 16px;
}

.head {
  display: flex;
  justify-content: space-between;
  margin-bottom: 4px;
}

ul {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}

li {
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr);
  gap: 8px;
}

.points {
  text-align: right;
}
</style>
