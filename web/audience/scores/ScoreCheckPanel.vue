<script setup lang="ts">
import { ref, watch } from 'vue'
import { historyView, scoreCheckView, type ScoreCheckView } from '../../../contract/audience/scores.ts'
import type { ProblemDetails } from '../../../contract/problems.ts'
import type { ActivityKind } from '../../../core/audience/people/activity.ts'
import { acceptSuggestion, type SuggestedPoints } from '../../../core/audience/scores/suggestion.ts'
import type { Scorecard } from '../../../core/audience/scores/scorecard.ts'
import { describeActivity } from '../../../core/audience/segments/describe.ts'
import { find, problemOf } from '../../api.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import { countOf, dayOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'
import ScoreCheckTable from './ScoreCheckTable.vue'
import ThingSelect from '../segments/ThingSelect.vue'
import { learnPoints } from './suggesting.ts'
import { useVocabulary } from '../segments/vocabulary.ts'

/** Holds the score against what people did, and learns points from it. Nothing changes unless it is accepted. */
const props = defineProps<{ today: Scorecard }>()
const card = defineModel<Scorecard>({ required: true })
const session = useSession()
const vocabulary = useVocabulary()

const hopes = [
  { kind: 'productBought', title: 'bought', detail: 'product', things: 'products' },
  { kind: 'sessionRegistered', title: 'registered for', detail: 'session', things: 'sessions' },
  { kind: 'formSent', title: 'sent the form of', detail: 'page', things: 'pages' },
] as const satisfies readonly { kind: ActivityKind; [key: string]: string }[]
const hope = ref<(typeof hopes)[number]>(hopes[0])
const thing = ref(0)
const days = ref(30)

const check = ref<ScoreCheckView | null>(null)
const suggested = ref<{ points: SuggestedPoints[]; card: Scorecard; check: ScoreCheckView } | null>(null)
const problem = ref<ProblemDetails | null>(null)
const busy = ref('')
// What was worked out for other rules or another hope says nothing any more.
watch([hope, thing, days, card], () => {
  check.value = null
  suggested.value = null
})

const question = (of: Scorecard) => ({
  card: of,
  days: days.value,
  outcome: { activity: hope.value.kind, details: thing.value ? { [hope.value.detail]: thing.value } : {} },
})

async function doing(words: string, work: () => Promise<void>): Promise<void> {
  busy.value = words
  problem.value = null
  try {
    await work()
  } catch (error) {
    problem.value =
      error instanceof Error && error.constructor === Error
        ? { status: 0, title: 'No points can be suggested', detail: `${error.message}.` }
        : problemOf(error)
  } finally {
    busy.value = ''
  }
}

const look = (): Promise<void> =>
  doing('Looking back…', async () => {
    suggested.value = null
    check.value = await find('/scorecards/check', question(card.value), scoreCheckView)
  })

const suggest = (): Promise<void> =>
  doing('Learning from what people did…', async () => {
    const history = await find('/scorecards/history', question(card.value), historyView)
    const points = await learnPoints(history, props.today)
    const next = acceptSuggestion(card.value, points)
    check.value = await find('/scorecards/check', question(card.value), scoreCheckView)
    suggested.value = {
      points,
      card: next,
      check: await find('/scorecards/check', question(next), scoreCheckView),
    }
  })

function accept(): void {
  if (suggested.value) card.value = suggested.value.card
  suggested.value = null
  check.value = null
}
</script>

<template>
  <section class="panel" aria-labelledby="check">
    <h2 id="check">Does the score mean anything?</h2>
    <div class="body">
      <p class="question sentence">
        Who of them
        <select v-model="hope" class="plain" aria-label="Did what" @change="thing = 0">
          <option v-for="each in hopes" :key="each.kind" :value="each">{{ each.title }}</option>
        </select>
        <ThingSelect v-model="thing" :kind="hope.things" any="anything" />
        within
        <input v-model.number="days" class="plain days" type="number" min="1" max="365" aria-label="Days" />
        days?
      </p>
      <p class="buttons">
        <v-btn color="primary" size="small" :loading="busy !== '' && !suggested" @click="look">Check</v-btn>
        <v-btn variant="outlined" size="small" :disabled="busy !== ''" @click="suggest">Suggest points</v-btn>
        <span class="soft" role="status">{{ busy }}</span>
      </p>
      <ProblemNote :problem="problem" />
      <template v-if="check">
        <p class="soft">
          {{ countOf(check.people) }} people as they were on
          <span class="figures">{{ dayOf(check.asOf, session.zone) }}</span>, and what they did in the
          {{ days }} days after.
          <template v-if="card.profile.length">
            Points for who they are stay out: who they were then is not known.
          </template>
        </p>
        <ScoreCheckTable :check="check" :beside="suggested?.check ?? null" />
      </template>
      <template v-if="suggested">
        <h3>Suggested points</h3>
        <table class="points">
          <thead>
            <tr>
              <th>Who</th>
              <th class="number">today</th>
              <th class="number">suggested</th>
              <th class="number">at most</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(each, i) in suggested.points" :key="i" :class="{ soft: each.points === 0 }">
              <td>{{ describeActivity(each.activity, each.details, vocabulary.words.names as never) }}</td>
              <td class="figures">{{ each.today }}</td>
              <td class="figures">
                <strong>{{ each.points }}</strong>
              </td>
              <td class="figures">
                {{ each.points === 0 || each.halfLife !== null ? '' : `${each.times}×` }}
              </td>
            </tr>
          </tbody>
        </table>
        <p class="buttons">
          <v-btn color="primary" size="small" @click="accept">Put these points into the rules</v-btn>
          <v-btn variant="text" size="small" @click="suggested = null">Leave it</v-btn>
        </p>
        <p class="soft">
          They are only put into the form on the left; bands are yours to set, and nothing changes before you
          save.
        </p>
      </template>
    </div>
  </section>
</template>

<style scoped>
.body {
  padding: 16px;
}

.question {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}

.days {
  width: 60px;
}

.buttons {
  display: flex;
  align-items: center;
  gap: 8px;
}

.points {
  width: 100%;
  border-collapse: collapse;
  margin: 4px 0 12px;
}

th {
  text-align: left;
  font-weight: 600;
}

td,
th {
  padding: 3px 0 3px 8px;
  border-bottom: 1px solid var(--rule);
}

th.number,
td.figures {
  text-align: right;
}

h3 {
  margin-top: 16px;
}
</style>
