<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../../contract/api.ts'
import { scorecardEdit, type BandMoves } from '../../../contract/audience/scores.ts'
import type { Scorecard } from '../../../core/audience/scores/scorecard.ts'
import { call } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import QuickDialog from '../../frame/QuickDialog.vue'
import StationTabs from '../../frame/StationTabs.vue'
import { useLoaded } from '../../loading.ts'
import { countOf, peopleOf } from '../../wording.ts'
import ScoreCheckPanel from './ScoreCheckPanel.vue'
import ScorecardBands from './ScorecardBands.vue'
import ScorecardRules from './ScorecardRules.vue'
import { useVocabulary } from '../segments/vocabulary.ts'

const props = defineProps<{ id: number | null }>()
const router = useRouter()
const vocabulary = useVocabulary()
onMounted(() => void vocabulary.reload())

const { data, problem } = useLoaded((signal) => call(api.scorecards.list, { signal }), ['audience'])
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
const { refused, busy, attempt } = useAttempts()
const moves = ref<BandMoves | null>(null)
const confirming = ref(false)
const deleting = ref(false)

/** Shows who would change band before anything is changed. */
async function preview(): Promise<void> {
  refused.value = null
  const typed = scorecardEdit.safeParse({ name: name.value, card: card.value })
  if (!typed.success) {
    refused.value = {
      status: 422,
      title: 'This scorecard cannot be saved',
      detail: typed.error.issues[0]?.message ?? '',
    }
    return
  }
  confirming.value = await attempt(async () => {
    moves.value =
      props.id === null
        ? null
        : await call(api.scorecards.moves, { params: { id: props.id }, body: { card: card.value } })
  })
}

async function save(): Promise<void> {
  const body = { name: name.value, card: card.value }
  await attempt(async () => {
    if (props.id !== null) {
      await call(api.scorecards.edit, { params: { id: props.id }, body })
      return
    }
    const { id } = await call(api.scorecards.create, { body })
    await router.push(`/people/scorecards/${id}`)
  })
  confirming.value = false
}

async function remove(): Promise<void> {
  const { id } = props
  if (id === null) return
  await attempt(async () => {
    await call(api.scorecards.delete, { params: { id } })
    await router.push('/people/scorecards')
  })
  deleting.value = false
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>{{ saved?.name ?? 'New scorecard' }}</h1>
      <StationTabs of="People" />
      <span class="grow" />
      <v-btn v-if="id !== null" variant="text" color="error" @click="deleting = true">Delete</v-btn>
      <v-btn color="secondary" :disabled="!changed" :loading="busy" @click="preview">
        {{ id === null ? 'Create scorecard' : 'Save changes' }}
      </v-btn>
    </div>
    <ProblemNote :problem="problem ?? refused" />
    <v-alert v-if="saved?.missing.length" type="warning" class="missing">
      Refers to {{ saved.missing.join(', ') }}: that rule gives no points.
    </v-alert>
    <div class="desk">
      <div class="rules">
        <section class="panel" aria-labelledby="rules">
          <div class="panel-head">
            <h2 id="rules">Points</h2>
            <v-text-field
              v-model="name"
              class="inline name"
              aria-label="Name"
              maxlength="80"
              placeholder="Interest"
            />
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
    <QuickDialog
      v-model="confirming"
      title="Recalculate everyone’s score?"
      :submit-label="id === null ? 'Create scorecard' : 'Save and recalculate'"
      :busy="busy"
      @submit="save"
    >
      <p v-if="moves">
        <strong>{{ peopleOf(moves.moved) }}</strong> of {{ countOf(moves.people) }} change band{{
          moves.sampled ? ' (estimated from a random sample)' : ''
        }}.
      </p>
      <ul v-if="moves">
        <li v-for="move in moves.moves" :key="`${move.from} ${move.to}`">
          from {{ move.from }} to {{ move.to }}: <span class="figures">{{ countOf(move.people) }}</span>
        </li>
      </ul>
      <p class="soft">
        Scores are recalculated from everything people have done. Until that is finished, the old rules apply.
        It starts no follow-up.
      </p>
    </QuickDialog>
    <QuickDialog
      v-model="deleting"
      :title="`Delete the scorecard “${saved?.name}”?`"
      submit-label="Delete scorecard"
      destructive
      :busy="busy"
      @submit="remove"
    >
      <p>
        Its scores and bands are deleted too. Segments that use it are shown as broken until you fix them.
      </p>
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
  align-items: center;
}

.name {
  flex: 0 1 240px;
}

.missing {
  margin-bottom: 16px;
}

@media (max-width: 1100px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
