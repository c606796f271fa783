<script setup lang="ts">
import { computed } from 'vue'
import { answersOf, type QuizContent } from '../../core/quizzes/quiz.ts'
import type { QuizProof, ResultProof } from '../../core/quizzes/proof/quizProof.ts'
import { provedFindings } from '../../core/quizzes/quizFindings.ts'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import { betweenWords, chanceWords } from './chanceWords.ts'

/** What is proved of a quiz while it is being written. */
const props = defineProps<{
  content: QuizContent
  proof: QuizProof | null
  busy: boolean
  /** Takes there are to measure shares by. */
  measured: boolean
}>()
const by = defineModel<'even' | 'expected' | 'measured'>('by', { required: true })
const emit = defineEmits<{ go: [part: string] }>()

type Way = 'even' | 'expected' | 'measured'
const choices = computed(
  () =>
    ({
      even: 'Evenly',
      expected: 'As expected',
      ...(props.measured && { measured: 'As measured' }),
    }) as Record<Way, string>,
)
const nameOf = (id: string): string => props.content.results.find((each) => each.id === id)?.name ?? ''
const ties = computed(() => {
  const { tie, questions, by: counted } = props.content
  if (counted === 'points') return null
  const decides =
    tie.by === 'order'
      ? 'the first of them in the order of the results'
      : `the one that the answer to “${questions.find(({ id }) => id === tie.question)?.words ?? ''}” speaks for most`
  return `When several results count alike it is ${decides}.`
})
const found = computed(() => (props.proof ? provedFindings(props.content, props.proof) : []))

/** How near one comes to a result that nobody gets. */
function nearWords({ nearest, nearestSum }: ResultProof): string {
  if (nearestSum) return `The nearest sum is ${nearestSum.sum}: it misses by ${nearestSum.off}.`
  if (!nearest || nearest.isReached) return ''
  const answers = props.content.questions.flatMap((question) => {
    const ids = nearest.answers[question.id] ?? []
    return answersOf(question).flatMap(({ id, words }) => (ids.includes(id) ? [`“${words}”`] : []))
  })
  const winner = props.content.results[nearest.winner]?.name ?? ''
  const behind =
    nearest.behind === 0 ? `ties with “${winner}”, which wins` : `is ${nearest.behind} behind “${winner}”`
  return `Nearest with ${answers.join(', ')}: it ${behind}.`
}
const missed = computed(() => (props.proof?.results ?? []).filter(({ isReached }) => isReached === false))
</script>

<template>
  <section class="panel proof" aria-label="Proof" :aria-busy="busy">
    <header>
      <h2>Proof</h2>
      <span class="soft">answers chosen</span>
      <ChoiceToggle v-model="by" label="How answers are chosen" :choices="choices" />
    </header>
    <template v-if="proof">
      <ul v-if="content.by !== 'type'" class="chances">
        <li v-for="each in proof.results" :key="each.id">
          {{ nameOf(each.id) }}
          <strong class="figures" :class="{ never: each.isReached === false }">{{
            chanceWords(each)
          }}</strong>
        </li>
      </ul>
      <p>
        <template v-if="proof.shortest === proof.longest"
          >{{ proof.longest }} {{ proof.longest === 1 ? 'question' : 'questions' }} for everybody.</template
        >
        <template v-else>{{ proof.shortest }} to {{ proof.longest }} questions.</template>
        {{ ties }}
        <template v-if="ties && proof.ties"
          >That happens in <strong class="figures">{{ betweenWords(proof.ties) }}</strong> of takes.</template
        >
      </p>
      <ul class="found">
        <li v-for="finding in found" :key="finding.words" :class="finding.level">
          <a v-if="finding.part" href="#" @click.prevent="emit('go', finding.part)">{{ finding.words }}</a>
          <template v-else>{{ finding.words }}</template>
          <span v-for="each in missed.filter(({ id }) => id === finding.part)" :key="each.id" class="soft">
            {{ nearWords(each) }}</span
          >
        </li>
      </ul>
      <p v-if="found.length === 0" class="fine" role="status">
        Everybody gets a result, and every result can be got.
      </p>
    </template>
    <p v-else class="soft">Working it out…</p>
  </section>
</template>

<style scoped>
.proof {
  padding: 10px 16px;
}

header {
  display: flex;
  align-items: center;
  gap: 12px;
}

h2 {
  padding: 0;
  border: 0;
}

p {
  margin: 6px 0 0;
}

ul {
  margin: 6px 0 0;
  padding-left: 18px;
}

.chances {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 24px;
  list-style: none;
  padding: 0;
}

.error a,
.error,
.never {
  color: var(--stop);
}

.fine {
  color: var(--clear);
}
</style>
