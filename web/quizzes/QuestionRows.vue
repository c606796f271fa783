<script setup lang="ts">
import { mdiClose, mdiPlus } from '@mdi/js'
import { computed } from 'vue'
import { answersOf, mostAnswers, type QuizAnswer, type QuizQuestion } from '../../core/quizzes/quiz.ts'
import type { QuizProof } from '../../core/quizzes/proof/quizProof.ts'
import type { QuizEditing } from './quizEditing.ts'
import { questionKinds } from './questionKinds.ts'
import SheetCell from './SheetCell.vue'
import type { SheetColumns } from './sheetColumns.ts'
import { shownNumber, typedNumber } from './typedNumber.ts'

/** A question on the score sheet: a row of its own, and one for each answer. */
const props = defineProps<{
  editing: QuizEditing
  question: QuizQuestion
  /** Among the questions, from 0. */
  place: number
  /** Of its first answer among all answers of the quiz. */
  row: number
  columns: SheetColumns
  proof: QuizProof | null
}>()
const { content, selected } = props.editing
const answers = computed(() => answersOf(props.question))
const isIdle = (id: string): boolean =>
  props.proof !== null && (props.proof.idleQuestions.includes(id) || props.proof.idleAnswers.includes(id))
const choose = (): void => {
  selected.value = props.question.id
}

const setAnswer = (answer: QuizAnswer, given: Partial<QuizAnswer>): void =>
  props.editing.setAnswer(props.question.id, { ...answer, ...given })
function setCount(answer: QuizAnswer, result: string, typed: string): void {
  const count = typedNumber(typed)
  if (count !== null) props.editing.setCount(props.question.id, answer.id, result, count)
}
function setPoints(answer: QuizAnswer, typed: string): void {
  const points = typedNumber(typed)
  if (points !== null) setAnswer(answer, { points })
}
function setExpected(answer: QuizAnswer, typed: string): void {
  const expected = typedNumber(typed)
  if (expected !== null) setAnswer(answer, { expected: Math.min(100, Math.max(0, expected)) })
}
</script>

<template>
  <tbody :class="{ chosen: selected === question.id }">
    <tr class="question" @click="choose">
      <th scope="rowgroup" class="words" :colspan="columns.count + 1">
        <span class="place figures">{{ place + 1 }}</span>
        <v-btn variant="text" size="small" class="title" @click="choose">
          {{ question.words || 'A question without words' }}
        </v-btn>
        <small class="soft"
          >{{ questionKinds[question.asks].title }}{{ question.required ? '' : ', may be left open' }}</small
        >
        <small v-if="isIdle(question.id)" class="idle">changes nothing</small>
      </th>
    </tr>
    <tr v-for="(answer, number) in answers" :key="answer.id">
      <td class="words">
        <div class="answer">
          <SheetCell
            :shown="answer.words"
            :label="`Question ${place + 1}: answer`"
            :data-row="row + number"
            data-column="-1"
            maxlength="300"
            placeholder="Write an answer"
            @focus="choose"
            @change="(words: string) => setAnswer(answer, { words })"
          />
          <small v-if="isIdle(answer.id)" class="idle" title="It counts for nothing">counts nothing</small>
          <v-btn
            :icon="mdiClose"
            size="x-small"
            variant="text"
            class="remove"
            :aria-label="`Remove “${answer.words}”`"
            @click="editing.removeAnswer(question.id, answer.id)"
          />
        </div>
      </td>
      <template v-if="columns.counts">
        <td v-for="(result, column) in content.results" :key="result.id">
          <SheetCell
            :shown="shownNumber(answer.counts[result.id])"
            :label="`“${answer.words}” for ${result.name}`"
            :data-row="row + number"
            :data-column="column"
            inputmode="decimal"
            class="figures"
            @change="(typed: string) => setCount(answer, result.id, typed)"
          />
        </td>
      </template>
      <td v-if="columns.points">
        <SheetCell
          :shown="shownNumber(answer.points)"
          :label="`Points of “${answer.words}”`"
          :data-row="row + number"
          :data-column="columns.counts ? content.results.length : 0"
          inputmode="decimal"
          class="figures"
          @change="(typed: string) => setPoints(answer, typed)"
        />
      </td>
      <td v-if="columns.expected">
        <SheetCell
          :shown="shownNumber(answer.expected)"
          :label="`Expected share of “${answer.words}”`"
          :data-row="row + number"
          :data-column="columns.count - 1"
          inputmode="decimal"
          class="figures"
          @change="(typed: string) => setExpected(answer, typed)"
        />
      </td>
    </tr>
    <tr v-if="question.asks !== 'text'">
      <td class="add" :colspan="columns.count + 1">
        <v-btn
          size="x-small"
          variant="text"
          :prepend-icon="mdiPlus"
          :disabled="answers.length >= mostAnswers || question.asks === 'yesNo'"
          @click="editing.addAnswer(question.id)"
          >Answer</v-btn
        >
      </td>
    </tr>
  </tbody>
</template>

<style scoped>
td {
  text-align: center;
}

.words,
.add {
  text-align: left;
}

.question {
  cursor: pointer;
  background: var(--paper);
}

.chosen .question {
  box-shadow: inset 3px 0 0 var(--petrol);
}

.title {
  font-weight: 600;
  padding-inline: 4px;
  height: auto;
  white-space: normal;
  text-align: left;
}

.question small {
  margin-left: 6px;
  font-weight: 400;
}

.place {
  display: inline-block;
  min-width: 20px;
  color: var(--ink-soft);
}

.idle {
  color: var(--stop);
  white-space: nowrap;
}

.answer {
  display: flex;
  align-items: center;
  gap: 6px;
  padding-left: 16px;
}

.answer > .v-input {
  flex: 1;
}

.add {
  padding-left: 24px;
}

/* One looks at numbers here: what removes is there when it is wanted. */
.remove {
  opacity: 0;
}

tr:hover .remove,
.remove:focus-visible {
  opacity: 1;
}
</style>
