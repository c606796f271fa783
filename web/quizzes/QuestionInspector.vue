<script setup lang="ts">
import { computed } from 'vue'
import type { PageContext } from '../../core/pages/context.ts'
import { answersOf, type QuizAnswer, type QuizQuestion } from '../../core/quizzes/quiz.ts'
import ActionsInput from '../blocks/inspector/ActionsInput.vue'
import PictureInput from '../blocks/inspector/PictureInput.vue'
import { useSite } from '../blocks/site.ts'
import QuestionPreview from './QuestionPreview.vue'
import { quizActionKinds } from './quizActionKinds.ts'
import { questionKinds } from './questionKinds.ts'
import MoveButtons from '../frame/MoveButtons.vue'
import type { QuizEditing } from './quizEditing.ts'

/** The question that is chosen: as visitors see it, and all that can be set about it. */
const props = defineProps<{ editing: QuizEditing; context: PageContext }>()
const { content, question } = props.editing
const library = useSite()

const place = computed(() => content.value.questions.findIndex(({ id }) => id === question.value?.id))
const answers = computed(() => (question.value ? answersOf(question.value) : []))
function set(given: object, of?: string): void {
  const now = question.value
  if (now) props.editing.setQuestion({ ...now, ...given } as QuizQuestion, of && `${now.id} ${of}`)
}
function move(by: -1 | 1): void {
  if (question.value) props.editing.shift(question.value.id, by)
}
function moveAnswer(answer: QuizAnswer, by: -1 | 1): void {
  if (question.value) props.editing.shiftAnswer(question.value.id, answer.id, by)
}
const setAnswer = (answer: QuizAnswer, given: object): void => {
  if (question.value) props.editing.setAnswer(question.value.id, { ...answer, ...given })
}

/** Answers of questions before this one. */
const earlier = computed(() =>
  content.value.questions
    .slice(0, Math.max(0, place.value))
    .flatMap((each, at) =>
      answersOf(each).map(({ id, words }) => ({ value: id, title: `${at + 1}. ${words}` })),
    ),
)
const fields = computed(() =>
  (library.site?.fields ?? []).map(({ id, name }) => ({ value: id, title: name })),
)
</script>

<template>
  <div v-if="question" class="parts">
    <div class="head">
      <h2>Question {{ place + 1 }}</h2>
      <span class="soft">{{ questionKinds[question.asks].title }}</span>
      <v-spacer />
      <MoveButtons :first="place === 0" :last="place === content.questions.length - 1" @move="move" />
    </div>
    <QuestionPreview
      :question="question"
      :place="place + 1"
      :of="content.questions.length"
      :context="context"
    />
    <v-textarea
      :model-value="question.words"
      label="Question"
      rows="2"
      @update:model-value="(words: string) => set({ words }, 'words')"
    />
    <v-text-field
      :model-value="question.help"
      label="Help"
      @update:model-value="(help: string) => set({ help }, 'help')"
    />
    <PictureInput
      :model-value="question.picture"
      label="Picture"
      @update:model-value="(picture: number | null) => set({ picture })"
    />
    <v-switch
      :model-value="question.required"
      label="Must be answered"
      @update:model-value="(required: boolean | null) => set({ required: required === true })"
    />
    <template v-if="question.asks === 'one' || question.asks === 'several'">
      <v-switch
        :model-value="question.shuffles"
        label="Answers in random order"
        @update:model-value="(shuffles: boolean | null) => set({ shuffles: shuffles === true })"
      />
    </template>
    <v-number-input
      v-if="question.asks === 'several'"
      :model-value="question.most"
      label="At most"
      :min="1"
      :max="answers.length"
      clearable
      placeholder="as many as there are"
      @update:model-value="(most: number | null) => set({ most })"
    />
    <template v-if="question.asks === 'scale'">
      <v-text-field
        :model-value="question.low"
        label="At the low end"
        @update:model-value="(low: string) => set({ low }, 'low')"
      />
      <v-text-field
        :model-value="question.high"
        label="At the high end"
        @update:model-value="(high: string) => set({ high }, 'high')"
      />
    </template>
    <v-autocomplete
      v-if="question.asks === 'text' || question.asks === 'number'"
      :model-value="question.field"
      label="Keep it in this field of yours"
      :items="fields"
      clearable
      @update:model-value="(field: number | null) => set({ field })"
    />
    <template v-if="question.asks === 'number'">
      <v-number-input
        v-for="answer in question.answers.slice(1)"
        :key="answer.id"
        :model-value="answer.from"
        :label="`“${answer.words || 'answer'}” begins at`"
        :precision="null"
        @update:model-value="(from: number | null) => setAnswer(answer, { from })"
      />
    </template>
    <v-autocomplete
      v-if="earlier.length"
      :model-value="question.skippedBy"
      label="Skipped by who answered"
      :items="earlier"
      multiple
      chips
      closable-chips
      @update:model-value="(skippedBy: string[]) => set({ skippedBy })"
    />
    <v-expansion-panels elevation="0" multiple variant="accordion">
      <v-expansion-panel v-for="answer in answers" :key="answer.id">
        <v-expansion-panel-title>
          {{ answer.words || 'Answer'
          }}<span v-if="answer.actions.length" class="soft"> does {{ answer.actions.length }}</span>
        </v-expansion-panel-title>
        <v-expansion-panel-text>
          <div class="parts">
            <div class="head">
              <MoveButtons :name="answer.words" @move="(by: -1 | 1) => moveAnswer(answer, by)" />
            </div>
            <PictureInput
              :model-value="answer.picture"
              label="Picture"
              @update:model-value="(picture: number | null) => setAnswer(answer, { picture })"
            />
            <h3>What it does</h3>
            <ActionsInput
              :model-value="answer.actions"
              :kinds="quizActionKinds"
              @update:model-value="(actions) => setAnswer(answer, { actions })"
            />
          </div> </v-expansion-panel-text></v-expansion-panel
    ></v-expansion-panels>
    <v-btn size="small" variant="text" @click="editing.remove(question.id)">Remove this question</v-btn>
  </div>
</template>

<style scoped>
.parts {
  display: grid;
  gap: 10px;
}

.head {
  display: flex;
  align-items: center;
  gap: 8px;
}

h2 {
  padding: 0;
  border: 0;
}

h3 {
  font-size: 14px;
}
</style>
