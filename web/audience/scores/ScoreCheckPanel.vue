<script setup lang="ts">
import { ref, watch } from 'vue'
import * as api from '../../../contract/api.ts'
import type { ScoreCheckView } from '../../../contract/audience/scores.ts'
import type { ProblemDetails } from '../../../contract/problems.ts'
import type { ActivityKind } from '../../../core/audience/people/activity.ts'
import { acceptSuggestion, type SuggestedPoints } from '../../../core/audience/scores/suggestion.ts'
import type { Scorecard } from '../../../core/audience/scores/scorecard.ts'
import type { NamedKind } from '../../../core/audience/segments/names.ts'
import { describeActivity } from '../../../core/audience/segments/describe.ts'
import { call, problemOf } from '../../api.ts'
import InlineNumber from '../../frame/InlineNumber.vue'
import InlineSelect from '../../frame/InlineSelect.vue'
import ProblemNote from '../../frame/ProblemNote.vue'
import { dayOf, peopleOf } from '../../wording.ts'
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

/** What one hopes that people do. */
type OutcomeKind = Extract<ActivityKind, 'productBought' | 'sessionRegistered' | 'formSent'>
const outcomes: Record<OutcomeKind, { title: string; detail: string; things: NamedKind }> = {
  productBought: { title: 'buy', detail: 'product', things: 'products' },
  sessionRegistered: { title: 'register for', detail: 'session', things: 'sessions' },
  formSent: { title: 'submit the form on', detail: 'page', things: 'pages' },
}
const outcomeItems = (Object.keys(outcomes) as OutcomeKind[]).map((value) => ({
  value,
  title: outcomes[value].title,
}))
const outcome = ref<OutcomeKind>('productBought')
const thing = ref(0)
const days = ref(30)

const check = ref<ScoreCheckView | null>(null)
const suggested = ref<{ points: SuggestedPoints[]; card: Scorecard; check: ScoreCheckView } | null>(null)
const problem = ref<ProblemDetails | null>(null)
const busy = ref('')
// What was worked out for other rules or another outcome says nothing any more.
watch([outcome, thing, days, card], () => {
  check.value = null
  suggested.value = null
})

const question = (of: Scorecard) => ({
  card: of,
  days: days.value,
  outcome: {
    activity: outcome.value,
    details: thing.value ? { [outcomes[outcome.value].detail]: thing.value } : {},
  },
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
  doing('Checking…', async () => {
    suggested.value = null
    check.value = await call(api.scorecards.check, { body: question(card.value) })
  })

const suggest = (): Promise<void> =>
  doing('Learning from what people did…', async () => {
    const history = await call(api.scorecards.history, { body: question(card.value) })
    const points = await learnPoints(history, props.today)
    const next = acceptSuggestion(card.value, points)
    check.value = await call(api.scorecards.check, { body: question(card.value) })
    suggested.value = {
      points,
      card: next,
      check: await call(api.scorecards.check, { body: question(next) }),
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
    <h2 id="check">Does the score predict anything?</h2>
    <div class="body">
      <p class="question">
        How many of them
        <InlineSelect
          v-model="outcome"
          label="Outcome"
          :items="outcomeItems"
          @update:model-value="thing = 0"
        />
        <ThingSelect v-model="thing" :kind="outcomes[outcome].things" any="anything" />
        within
        <InlineNumber
          label="Days"
          :min="1"
          :model-value="days"
          @update:model-value="(typed) => (days = typed ?? days)"
        />
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
          {{ peopleOf(check.people) }} as they were on
          <span class="figures">{{ dayOf(check.asOf, session.zone) }}</span>, and what they did in the
          {{ days }} days after.
          <template v-if="card.profile.length">
            Profile rules are left out: who people were at that time is not known.
          </template>
        </p>
        <ScoreCheckTable :check="check" :beside="suggested?.check ?? null" />
      </template>
      <template v-if="suggested">
        <h3>Suggested points</h3>
        <v-table class="points">
          <thead>
            <tr>
              <th scope="col">Rule</th>
              <th scope="col" class="number">Now</th>
              <th scope="col" class="number">Suggested</th>
              <th scope="col" class="number">Cap</th>
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
        </v-table>
        <p class="buttons">
          <v-btn color="primary" size="small" @click="accept">Use these points</v-btn>
          <v-btn variant="text" size="small" @click="suggested = null">Discard</v-btn>
        </p>
        <p class="soft">
          They are filled into the form on the left; bands stay yours to set, and nothing changes until you
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

.buttons {
  display: flex;
  align-items: center;
  gap: 8px;
}

.points {
  margin: 4px 0 12px;
}

h3 {
  margin-top: 16px;
}
</style>
