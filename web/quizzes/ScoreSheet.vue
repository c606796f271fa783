<script setup lang="ts">
import { computed } from 'vue'
import { mostQuestions, mostResults, answersOf, type QuizQuestion } from '../../core/quizzes/quiz.ts'
import type { QuizProof } from '../../core/quizzes/proof/quizProof.ts'
import ActionMenu from '../frame/ActionMenu.vue'
import { chanceWords } from './chanceWords.ts'
import type { QuizEditing } from './quizEditing.ts'
import { questionKinds } from './questionKinds.ts'
import QuestionRows from './QuestionRows.vue'
import { sheetColumns } from './sheetColumns.ts'

/** A quiz as a table: questions and answers in rows, results in columns, what answers count in the cells. */
const props = defineProps<{ editing: QuizEditing; proof: QuizProof | null; expects: boolean }>()
const { content, selected } = props.editing
const columns = computed(() => sheetColumns(content.value, props.expects))
/** The number of the first answer of each question among all answers. */
const firstRows = computed(() => {
  let next = 0
  return content.value.questions.map((question) => {
    const first = next
    next += answersOf(question).length
    return first
  })
})
const proved = (id: string) => props.proof?.results.find((each) => each.id === id)

/** Keys go from cell to cell as in any table. */
function step(event: KeyboardEvent): void {
  const input = event.target
  if (!(input instanceof HTMLInputElement)) return
  const { row, column } = input.closest<HTMLElement>('[data-row]')?.dataset ?? {}
  if (row === undefined || column === undefined) return
  const ways: Record<string, [number, number]> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    Enter: [event.shiftKey ? -1 : 1, 0],
  }
  if (input.selectionStart === input.selectionEnd || input.value === '') {
    if (input.selectionEnd === input.value.length) ways.ArrowRight = [0, 1]
    if (input.selectionStart === 0) ways.ArrowLeft = [0, -1]
  }
  const way = ways[event.key]
  if (!way || event.altKey || event.ctrlKey || event.metaKey) return
  const next = (event.currentTarget as HTMLElement).querySelector<HTMLInputElement>(
    `[data-row="${Number(row) + way[0]}"][data-column="${Number(column) + way[1]}"] input`,
  )
  if (!next) return
  event.preventDefault()
  next.focus()
  next.select()
}

const kinds = Object.entries(questionKinds)
const additions = computed(() =>
  kinds.map(([asks, { title }]) => ({
    title,
    run: () => props.editing.addQuestion(asks as QuizQuestion['asks'], content.value.questions.length),
  })),
)
</script>

<template>
  <div class="sheet" tabindex="0" role="region" aria-label="Score sheet">
    <v-table class="scores" @keydown="step">
      <thead>
        <tr>
          <th scope="col" class="words">Questions and answers</th>
          <template v-if="columns.counts">
            <th
              v-for="result in content.results"
              :key="result.id"
              scope="col"
              :class="{ chosen: selected === result.id }"
            >
              <v-btn variant="text" size="small" class="result" @click="selected = result.id">
                {{ result.name || 'Result' }}
              </v-btn>
            </th>
          </template>
          <th v-if="columns.points" scope="col">Points</th>
          <th v-if="columns.expected" scope="col">Expected %</th>
        </tr>
      </thead>
      <tbody class="chances">
        <tr>
          <th scope="row" class="words soft">How likely</th>
          <template v-if="columns.counts">
            <td v-for="result in content.results" :key="result.id">
              <strong class="figures" :class="{ never: proved(result.id)?.isReached === false }">{{
                chanceWords(proved(result.id))
              }}</strong>
              <span class="bar" :style="{ width: `${(proved(result.id)?.chance?.least ?? 0) * 100}%` }" />
            </td>
          </template>
          <td v-if="columns.points" />
          <td v-if="columns.expected" />
        </tr>
      </tbody>
      <QuestionRows
        v-for="(question, place) in content.questions"
        :key="question.id"
        :editing="editing"
        :question="question"
        :place="place"
        :row="firstRows[place] ?? 0"
        :columns="columns"
        :proof="proof"
      />
    </v-table>
    <div class="below">
      <ActionMenu
        v-if="content.questions.length < mostQuestions"
        label="Add a question"
        size="small"
        :actions="additions"
      />
      <v-btn
        size="small"
        variant="outlined"
        :disabled="content.results.length >= mostResults"
        @click="editing.addResult()"
      >
        Add a result
      </v-btn>
    </div>
  </div>
</template>

<style scoped>
.sheet {
  overflow: auto;
  background: var(--surface);
  border: 1px solid var(--rule);
}

/* The sheet scrolls as a whole, below its head. */
.scores,
.scores :deep(.v-table__wrapper) {
  overflow: visible;
}

.scores :deep(td),
.scores :deep(th) {
  border-bottom: 1px solid var(--rule);
  padding: 2px 6px;
}

.scores :deep(th:not(.words)) {
  min-width: 86px;
}

.scores :deep(.words) {
  min-width: 280px;
}

thead th {
  position: sticky;
  top: 0;
  background: var(--surface);
  z-index: 1;
  text-align: center;
}

thead th.words {
  text-align: left;
}

.result {
  font-weight: 600;
  padding-inline: 4px;
}

th.chosen {
  box-shadow: inset 0 -3px 0 var(--petrol);
}

.chances tr {
  background: var(--paper);
}

.chances th {
  text-align: left;
  font-weight: 400;
}

.chances td {
  text-align: center;
}

.bar {
  display: block;
  height: 4px;
  margin: 3px auto 2px 0;
  background: var(--petrol);
}

.never {
  color: var(--stop);
}

.below {
  display: flex;
  gap: 10px;
  padding: 12px;
}
</style>
