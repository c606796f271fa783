<script setup lang="ts">
import { mdiDownload } from '@mdi/js'
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import { addressOf } from '../../contract/route.ts'
import { call } from '../api.ts'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import FigureRow from '../frame/FigureRow.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'
import ShareFigure from '../frame/ShareFigure.vue'

/** How a quiz does: where people leave, what they get, and who they are. */
const props = defineProps<{ id: number }>()
const params = { id: props.id }
const days = ref<'30' | '90' | '365'>('365')
const { data: quiz } = useLoaded((signal) => call(api.quizzes.view, { params, signal }), [])
const { data, problem } = useLoaded(
  (signal) => call(api.quizzes.report, { params, query: { days: Number(days.value) }, signal }),
  ['audience'],
  () => days.value,
)
const most = computed(() => Math.max(1, data.value?.began ?? 0))
const csv = `/api${addressOf(api.quizzes.takesCsv.path, params)}`
/** Results that an answer leads to most, in words. */
const answersOf = (question: string) =>
  (data.value?.answers ?? []).filter((each) => each.question === question)
const byResult = (
  answer: { byResult: Record<string, number>; share: { of: number } },
  result: string,
): string =>
  answer.share.of === 0 ? '' : `${Math.round(((answer.byResult[result] ?? 0) / answer.share.of) * 100)} %`
</script>

<template>
  <div class="report">
    <header>
      <h1>{{ quiz?.name ?? 'Quiz' }}: report</h1>
      <v-spacer />
      <ChoiceToggle
        v-model="days"
        label="Time"
        :choices="{ '30': '30 days', '90': '90 days', '365': 'A year' }"
      />
      <v-btn variant="outlined" size="small" :to="`/library/quizzes/${id}`">Score sheet</v-btn>
      <v-btn variant="outlined" size="small" :prepend-icon="mdiDownload" :href="csv">Takes as CSV</v-btn>
    </header>
    <ProblemNote :problem="problem" />
    <template v-if="data">
      <FigureRow label="In short">
        <div>
          <dt>Saw it</dt>
          <dd class="figures">{{ countOf(data.seen) }}</dd>
        </div>
        <div>
          <dt>Began</dt>
          <dd class="figures">{{ countOf(data.began) }}</dd>
        </div>
        <div>
          <dt>Finished</dt>
          <dd><ShareFigure :share="data.finished" count /></dd>
        </div>
        <div>
          <dt>Gave the address</dt>
          <dd><ShareFigure :share="data.addressed" count /></dd>
        </div>
      </FigureRow>
      <section class="panel" aria-labelledby="where">
        <h2 id="where">Where they leave</h2>
        <ol class="way">
          <li v-for="(question, at) in data.questions" :key="question.id">
            <span class="name">{{ at + 1 }}. {{ question.words }}</span>
            <span class="track"
              ><span class="bar" :style="{ width: `${(question.answered / most) * 100}%` }"
            /></span>
            <span class="figures">{{ countOf(question.answered) }}</span>
            <span class="figures soft">{{ question.left ? `${countOf(question.left)} left here` : '' }}</span>
          </li>
        </ol>
      </section>
      <section class="panel" aria-labelledby="got">
        <h2 id="got">What they get</h2>
        <v-table>
          <thead>
            <tr>
              <th scope="col">Result</th>
              <th scope="col">Share</th>
              <th scope="col">Gave the address</th>
              <th scope="col">New on the list</th>
              <th scope="col">Bought since</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="result in data.results" :key="result.id">
              <th scope="row">{{ result.name }}</th>
              <td><ShareFigure :share="result.share" count /></td>
              <td><ShareFigure :share="result.addressed" /></td>
              <td><ShareFigure :share="result.added" /></td>
              <td><ShareFigure :share="result.bought" /></td>
            </tr>
          </tbody>
        </v-table>
      </section>
      <section class="panel" aria-labelledby="answers">
        <h2 id="answers">Answers by result</h2>
        <v-table>
          <thead>
            <tr>
              <th scope="col">Answer</th>
              <th scope="col">Chosen</th>
              <th v-for="result in data.results" :key="result.id" scope="col">{{ result.name }}</th>
            </tr>
          </thead>
          <tbody v-for="(question, at) in data.questions" :key="question.id">
            <tr v-if="answersOf(question.id).length" class="group">
              <th scope="rowgroup" :colspan="data.results.length + 2">{{ at + 1 }}. {{ question.words }}</th>
            </tr>
            <tr v-for="answer in answersOf(question.id)" :key="answer.answer">
              <th scope="row">{{ answer.words }}</th>
              <td><ShareFigure :share="answer.share" count /></td>
              <td v-for="result in data.results" :key="result.id" class="figures">
                {{ byResult(answer, result.id) }}
              </td>
            </tr>
          </tbody>
        </v-table>
      </section>
    </template>
  </div>
</template>

<style scoped>
.report {
  padding: 16px 24px 40px;
  display: grid;
  gap: 14px;
}

header {
  display: flex;
  align-items: center;
  gap: 12px;
}

h1 {
  font-size: 22px;
}

.way {
  list-style: none;
  margin: 0;
  padding: 8px 18px 14px;
  display: grid;
  gap: 6px;
}

.way li {
  display: grid;
  grid-template-columns: minmax(0, 340px) 1fr 70px 130px;
  gap: 12px;
  align-items: center;
}

.track {
  background: color-mix(in srgb, var(--rule) 45%, transparent);
}

.bar {
  display: block;
  height: 14px;
  background: var(--petrol);
}

th:not(:first-child),
td {
  text-align: right;
}

tbody th {
  font-weight: 400;
}

tbody .group th {
  font-weight: 600;
  background: var(--paper);
}
</style>
