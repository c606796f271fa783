<script setup lang="ts">
import { computed, onScopeDispose, ref, shallowRef, watch } from 'vue'
import * as api from '../../contract/api.ts'
import { describeActivity } from '../../core/audience/segments/describe.ts'
import { nameOf } from '../../core/audience/segments/names.ts'
import { stranger } from '../../core/audience/people/person.ts'
import type { Behaviour } from '../../core/followups/behaviour.ts'
import { crowdingIn } from '../../core/followups/crowding.ts'
import type { Facts } from '../../core/followups/enrolment.ts'
import { personas } from '../../core/followups/personas.ts'
import { isDecision, type RehearsalLine } from '../../core/followups/rehearsal.ts'
import { layoutTimetable } from '../../core/followups/timetable.ts'
import { call } from '../api.ts'
import { useVocabulary } from '../audience/segments/vocabulary.ts'
import PersonSearch from '../audience/people/PersonSearch.vue'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import MomentInput from '../frame/MomentInput.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import BehaviourInput from './BehaviourInput.vue'
import FollowupHead from './FollowupHead.vue'
import { useFollowup } from './followupView.ts'
import ForecastPanel from './ForecastPanel.vue'
import RehearsalPeople from './RehearsalPeople.vue'
import { rehearsalCalendar, rehearsalCsv, saveText, tellMoment, type ShownLine } from './rehearsalFiles.ts'
import { startRehearser } from './rehearsing.ts'
import TimetableChart from './TimetableChart.vue'

/** Takes somebody through a follow-up, at once and in the browser: what they get, when, and why. */
const props = defineProps<{ id: number }>()
const vocabulary = useVocabulary()
const person = ref<number | null>(null)
const { view, problem } = useFollowup(props.id)
const { data: material } = useLoaded(
  (signal) =>
    call(api.followups.rehearsal, {
      params: { id: props.id },
      query: { person: person.value ?? undefined },
      signal,
    }),
  [],
  () => person.value,
)

const persona = ref(personas[0]?.id ?? '')
const own = ref<Behaviour>({ opens: 60, clicks: 30, opensAfter: 120, does: [] })
const behaviour = computed(
  (): Behaviour => personas.find(({ id }) => id === persona.value)?.behaviour ?? own.value,
)
const personaItems = [
  ...personas.map(({ id, name, words }) => ({ value: id, title: `${name}: ${words}` })),
  { value: 'own', title: 'Somebody of my own' },
]
watch(persona, (_, before) => {
  const from = personas.find(({ id }) => id === before)
  if (from && persona.value === 'own') own.value = from.behaviour
})

const together = ref<'alone' | 'together'>('alone')
const start = ref<string | null>(null)
const zone = ref<string | null>(null)
const zones = Intl.supportedValuesOf('timeZone')
watch(material, (loaded) => (start.value ??= loaded?.now ?? null))

const facts = computed((): Facts | null => {
  const { names, fields, scorecards } = vocabulary.words
  if (!material.value) return null
  const { emails, segments, known } = material.value
  return {
    person: {
      ...stranger,
      marketing: 'subscribed',
      ...(known && {
        marketing: known.marketing,
        tags: new Set(known.tags),
        topics: new Set(known.topics),
        fields: known.fields,
      }),
      builtIn: { ...known?.builtIn, ...(zone.value && { zone: zone.value }) },
    },
    emails,
    fields: fields.map(({ id, name, kind, options }) => ({ id, name, kind, options })),
    sessions: {},
    seed: `${props.id} ${person.value ?? persona.value}`,
    context: { names, segments, scorecards },
  }
})
const program = computed(() => view.value?.content ?? null)
const followups = computed(() => {
  const running = material.value?.followups ?? []
  return program.value
    ? [
        { id: props.id, program: program.value },
        ...(together.value === 'together' ? running.map(({ id, program: of }) => ({ id, program: of })) : []),
      ]
    : []
})

const year = 365 * 86_400_000
const rehearser = startRehearser()
onScopeDispose(() => rehearser.end())
const lines = shallowRef<RehearsalLine[]>([])
const fault = ref<string | null>(null)
watch(
  [followups, facts, behaviour, start],
  async () => {
    if (!facts.value || !start.value || followups.value.length === 0) return
    const from = Date.parse(start.value)
    try {
      lines.value = await rehearser.rehearse({
        followups: followups.value,
        first: props.id,
        facts: facts.value,
        behaviour: behaviour.value,
        start: from,
        until: from + year,
      })
      fault.value = null
    } catch (error) {
      fault.value = error instanceof Error ? error.message : String(error)
    }
  },
  { immediate: true, deep: true },
)
const clock = computed(() => zone.value ?? program.value?.zone ?? 'UTC')
const names = computed(() => vocabulary.words.names)
const nameOfFollowup = (id: number): string =>
  id === props.id
    ? (view.value?.name ?? '')
    : (material.value?.followups.find((each) => each.id === id)?.name ?? '')
const outcomeWords = {
  sent: 'gets',
  skipped: 'does not get',
  waits: 'waits',
  took: 'takes the lane',
  tagged: 'is tagged',
  did: 'done',
  jumped: 'jumps ahead',
  moved: 'is moved',
  left: 'leaves',
  setAside: 'is set aside',
} as const
const shown = computed((): ShownLine[] =>
  lines.value.map((line) =>
    isDecision(line)
      ? {
          at: line.at,
          when: tellMoment(line.at, clock.value),
          followup: nameOfFollowup(line.followup),
          what:
            line.email === null
              ? outcomeWords[line.outcome]
              : `${outcomeWords[line.outcome]} ${nameOf(names.value, 'emails', line.email)}`,
          why: line.email === null ? line.reason : '',
          isEmail: line.email !== null,
          isDeed: false,
        }
      : {
          at: line.at,
          when: tellMoment(line.at, clock.value),
          followup: '',
          what: describeActivity(line.did, { ...line.details }, names.value),
          why: '',
          isEmail: false,
          isDeed: true,
        },
  ),
)
const crowding = computed(() =>
  crowdingIn(lines.value, {
    zone: clock.value,
    names: names.value,
    sells: (email) => material.value?.emails[email]?.sells ?? false,
  }),
)
const travelled = computed(
  () =>
    new Set(
      lines.value.flatMap((line) =>
        isDecision(line) && line.followup === props.id && line.step ? [line.step] : [],
      ),
    ),
)
const timetable = computed(() =>
  program.value ? layoutTimetable(program.value, start.value ? Date.parse(start.value) : undefined) : null,
)
const said = ref<'list' | 'forecast' | 'live'>('list')
const fileName = computed(
  () => (view.value?.name ?? 'rehearsal').replace(/[^\w -]/g, '').trim() || 'rehearsal',
)
</script>

<template>
  <div class="screen">
    <ProblemNote :problem="problem" />
    <template v-if="view && program && timetable">
      <FollowupHead :id="id" :name="view.name">
        <ChoiceToggle
          v-model="said"
          label="What is shown"
          :choices="{ list: 'One person', forecast: 'Forecast', live: 'Live' }"
        />
      </FollowupHead>
      <ForecastPanel
        v-if="said === 'forecast' && facts && material"
        :id="id"
        :followups="followups"
        :facts="facts"
        :material="material"
      />
      <RehearsalPeople v-else-if="said === 'live'" :id="id" :state="view.state" />
      <template v-else>
        <div class="asked panel">
          <v-select v-model="persona" :items="personaItems" label="Somebody who" />
          <PersonSearch v-model="person" label="As this person is now (optional)" />
          <MomentInput v-model="start" label="Starts" :zone="program.zone" />
          <v-autocomplete
            v-model="zone"
            :items="zones"
            label="Lives in"
            clearable
            :placeholder="program.zone"
          />
          <ChoiceToggle
            v-model="together"
            label="Which follow-ups"
            :choices="{ alone: 'This one', together: 'All together' }"
          />
          <BehaviourInput v-if="persona === 'own'" v-model="own" class="own" />
        </div>
        <section class="panel chart" aria-label="The way they take">
          <TimetableChart
            :timetable="timetable"
            :steps="program.steps"
            :names="names"
            :notes="new Map()"
            :selected="null"
            :stretch="[]"
            :faults="new Set()"
            :travelled="travelled"
            readonly
          />
        </section>
        <div class="found">
          <section class="panel" aria-labelledby="list">
            <div class="panel-head">
              <h2 id="list">Twelve months</h2>
              <span class="grow" />
              <v-btn
                size="small"
                variant="outlined"
                @click="saveText(`${fileName}.csv`, 'text/csv', rehearsalCsv(shown))"
              >
                CSV
              </v-btn>
              <v-btn
                size="small"
                variant="outlined"
                @click="
                  saveText(`${fileName}.ics`, 'text/calendar', rehearsalCalendar(lines, fileName, names))
                "
              >
                Calendar
              </v-btn>
            </div>
            <p v-if="fault" class="body">{{ fault }}</p>
            <ol tabindex="0" aria-label="What happens, in order">
              <li v-for="(line, i) in shown" :key="i" :class="{ email: line.isEmail, deed: line.isDeed }">
                <time class="figures">{{ line.when }}</time>
                <span>
                  <strong v-if="line.isEmail">{{ line.what }}</strong>
                  <template v-else>{{ line.isDeed ? `They: ${line.what}` : line.what }}</template>
                  <span class="soft">{{ line.why && ` ${line.why}` }}</span>
                  <span v-if="together === 'together' && line.followup" class="soft">
                    · {{ line.followup }}</span
                  >
                </span>
              </li>
              <li v-if="!shown.length" class="soft">Nothing happens.</li>
            </ol>
          </section>
          <section class="panel" aria-labelledby="crowding">
            <div class="panel-head"><h2 id="crowding">All emails together</h2></div>
            <ul class="body">
              <li v-for="(each, i) in crowding" :key="i">{{ each.words }}</li>
              <li v-if="!crowding.length" class="soft">
                No day with more than one email, no two within an hour, no offer after a purchase, no month of
                silence.
              </li>
            </ul>
          </section>
        </div>
      </template>
    </template>
    <p v-else-if="!problem" class="soft">Loading…</p>
  </div>
</template>

<style scoped>
.asked {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(330px, 1fr));
  gap: 12px;
  padding: 12px 16px;
  align-items: start;
}

.own {
  grid-column: 1 / -1;
}

.chart {
  margin: 12px 0;
  max-height: 40vh;
  overflow: auto;
}

.found {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  gap: 12px;
  align-items: start;
}

ol {
  list-style: none;
  margin: 0;
  padding: 4px 0;
  max-height: 480px;
  overflow: auto;
}

ol li {
  display: grid;
  grid-template-columns: 210px minmax(0, 1fr);
  gap: 12px;
  padding: 4px 16px;
  overflow-wrap: anywhere;
}

.deed {
  background: color-mix(in srgb, var(--lamp) 12%, var(--surface));
}

.body {
  margin: 0;
  padding: 12px 16px 12px 32px;
}

@media (max-width: 1000px) {
  .found {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
