<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { z } from 'zod'
import { bandMoves, scorecardEdit, scorecardList, type BandMoves } from '../../../contract/audience/scores.ts'
import type { Scorecard } from '../../../core/audience/scores/scorecard.ts'
import { change, find, read } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import QuickDialog from '../../frame/QuickDialog.vue'
import { useLoaded } from '../../loading.ts'
import { countOf, peopleOf } from '../../wording.ts'
import PeopleTabs from '../PeopleTabs.vue'
import ScoreCheckPanel from './ScoreCheckPanel.vue'
import ScorecardBands from './ScorecardBands.vue'
import ScorecardRules from './ScorecardRules.vue'
import { useVocabulary } from '../segments/vocabulary.ts'

const props = defineProps<{ id: number | null }>()
const router = useRouter()
const vocabulary = useVocabulary()
onMounted(() => void vocabulary.reload())

const { data, problem } = useLoaded((signal) => read('/scorecards', scorecardList, signal), ['audience'])
const saved = computed(() => data.value?.find(({ id }) => id === props.id) ?? null)

const begin: Scorecard = {
  behaviours: [
    {
      id: 'r1',
      activity: 'emailClicked',
      details: {},
      points: 5,
      capPerDay: 10,
      capInAll: null,
      halfLife: 30,
    },
  ],
  profile: [],
  bands: [
    { id: 'cool', name: 'Cool', from: null },
    { id: 'warm', name: 'Warm', from: 10 },
    { id: 'hot', name: 'Hot', from: 30 },
  ],
}
const name = ref('')
const card = ref<Scorecard>(structuredClone(begin))
let loadedId: number | null = null
watch(
  saved,
  (found) => {
    if (!found || loadedId === found.id) return
    loadedId = found.id
    name.value = found.name
    card.value = structuredClone(found.card)
  },
  { immediate: true },
)

const changed = computed(
  () => JSON.stringify(card.value) !== JSON.stringify(saved.value?.card) || name.value !== saved.value?.name,
)
const { refused, attempt } = useAttempts()
const moves = ref<BandMoves | null>(null)
const asking = ref(false)
const deleting = ref(false)

const savedShape = z.object({ id: z.number(), work: z.number() })

/** Shows who would change band before anything is changed. */
async function preview(): Promise<void> {
  refused.value = null
  const typed = scorecardEdit.safeParse({ name: name.value, card: card.value })
  if (!typed.success) {
    refused.value = {
      status: 422,
      title: 'Some of this cannot be used',
      detail: typed.error.issues[0]?.message ?? '',
    }
    return
  }
  asking.value = await attempt(async () => {
    moves.value =
      props.id === null ? null : await find(`/scorecards/${props.id}/moves`, { card: card.value }, bandMoves)
  })
}

async function save(): Promise<void> {
  const path = props.id === null ? '/scorecards' : `/scorecards/${props.id}`
  await attempt(async () => {
    const { id } = await change(path, { name: name.value, card: card.value }, savedShape)
    if (props.id === null) await router.push(`/people/scorecards/${id}`)
  })
  asking.value = false
}

async function remove(): Promise<void> {
  await attempt(async () => {
    await change(`/scorecards/${props.id}/delete`)
    await router.push('/people/scorecards')
  })
  deleting.value = false
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>{{ saved?.name ?? 'New scorecard' }}</h1>
      <PeopleTabs />
      <span class="grow" />
      <v-btn v-if="id !== null" variant="text" color="error" @click="deleting = true">Delete</v-btn>
      <v-btn color="secondary" :disabled="!changed" @click="preview">{{
        id === null ? 'Make the scorecard' : 'Change the rules'
      }}</v-btn>
    </div>
    <ProblemNote :problem="problem ?? refused" />
    <p v-if="saved?.missing.length" class="fault">
      Speaks of {{ saved.missing.join(', ') }}: that rule gives no points.
    </p>
    <div class="desk">
      <div class="rules">
        <section class="panel" aria-labelledby="rules">
          <div class="panel-head">
            <h2 id="rules">Points</h2>
            <label>Name <input v-model="name" class="plain" maxlength="80" placeholder="Interest" /></label>
          </div>
          <ScorecardRules v-model="card" />
        </section>
        <section class="panel" aria-labelledby="bands">
          <h2 id="bands">Bands</h2>
          <ScorecardBands v-model="card" :people="saved?.people ?? {}" />
        </section>
      </div>
      <ScoreCheckPanel v-model="card" :today="saved?.card ?? card" />
    </div>
    <QuickDialog v-model="asking" title="Change everybody’s score?" does="Change the rules" @done="save">
      <p v-if="moves">
        <strong>{{ peopleOf(moves.moved) }}</strong> of {{ countOf(moves.people) }} come into another band{{
          moves.sampled ? ' (worked out from a random part of them)' : ''
        }}.
      </p>
      <ul v-if="moves">
        <li v-for="move in moves.moves" :key="`${move.from} ${move.to}`">
          from {{ move.from }} to {{ move.to }}: <span class="figures">{{ countOf(move.people) }}</span>
        </li>
      </ul>
      <p class="soft">
        Everybody’s score is worked out from what they have done. Until that is finished the old rules stand.
        No follow-up starts by it.
      </p>
    </QuickDialog>
    <QuickDialog
      v-model="deleting"
      :title="`Delete the scorecard “${saved?.name}”?`"
      does="Delete the scorecard"
      destructive
      @done="remove"
    >
      <p>Scores and bands go with it. Segments that speak of it are shown as broken until you mend them.</p>
    </QuickDialog>
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 420px;
  gap: 20px;
  align-items: start;
}

.rules {
  display: grid;
  gap: 20px;
}

.panel-head {
  justify-content: space-between;
}

@media (max-width: 1100px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
