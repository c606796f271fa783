<script setup lang="ts">
import { mdiRedo, mdiUndo } from '@mdi/js'
import { DateTime } from 'luxon'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import type { FollowupDraft, FollowupView } from '../../contract/followups.ts'
import type { StepPlace } from '../../core/followups/editing.ts'
import type { Mend } from '../../core/followups/finding.ts'
import { program as programShape, type Program } from '../../core/followups/program.ts'
import { describeStep } from '../../core/followups/sentences.ts'
import { allSteps } from '../../core/followups/step.ts'
import { layoutTimetable } from '../../core/followups/timetable.ts'
import { emailFrom, emailPoints } from '../../core/email/startingPoints.ts'
import { call } from '../api.ts'
import { useVocabulary } from '../audience/segments/vocabulary.ts'
import AddDialog from '../blocks/AddDialog.vue'
import { useDesk } from '../blocks/desk.ts'
import { useDraft, type DraftKind } from '../blocks/draft.ts'
import { newPartId } from '../blocks/editing.ts'
import EditorNotes from '../blocks/EditorNotes.vue'
import ActionMenu from '../frame/ActionMenu.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { rateOf } from '../rate.ts'
import { useSession } from '../workspace/session.ts'
import { countOf, whenOf } from '../wording.ts'
import FollowupBar from './FollowupBar.vue'
import GoLiveDialog from './GoLiveDialog.vue'
import { useProgramEditing } from './programEditing.ts'
import ProgramInspector from './ProgramInspector.vue'
import StepInspector from './StepInspector.vue'
import { allStepKinds, stepKinds } from './stepKinds.ts'
import TimetableChart, { type StepNote } from './TimetableChart.vue'
import { timetableKeys } from './timetableKeys.ts'

/** The editor of a follow-up: its timetable, and what can be set beside it. */
const props = defineProps<{ view: FollowupView }>()
const emit = defineEmits<{ reload: [] }>()
const route = useRoute()
const router = useRouter()
const now = useNowIso()
const session = useSession()
const vocabulary = useVocabulary()
const params = { id: props.view.id }

const followups: DraftKind<Program, FollowupDraft> = {
  name: 'followup',
  shape: programShape,
  save: (_id, body) => call(api.followups.save, { params, body }),
}
const draft = useDraft(followups, props.view)
const editing = useProgramEditing(props.view.content)
// A finding elsewhere leads to its step.
if (typeof route.query.step === 'string') editing.select(route.query.step)
const { program, selected, step, stretch } = editing
/** What is not whole yet is kept back until it is, and says what is missing. */
const unfinished = ref<string | null>(null)
watch(program, (next) => {
  const read = programShape.safeParse(next)
  unfinished.value = read.success ? null : (read.error.issues[0]?.message ?? '')
  if (read.success) draft.set(next)
})

const desk = useDesk(followups, props.view.id, draft, {
  open: editing.replace,
  publish: () => Promise.resolve(),
  async keepAsCopy(kept) {
    const body = { name: `${props.view.name} (mine)`.slice(0, 120), content: kept }
    const { id } = await call(api.followups.create, { body })
    await router.push(`/follow-ups/${id}`)
  },
  reload: () => emit('reload'),
})
const savedWords = computed(() => {
  if (unfinished.value !== null) return 'not finished'
  if (draft.problem.value && !draft.conflict.value) return 'not saved yet'
  if (draft.unsaved.value) return 'saving…'
  return `saved ${whenOf(draft.state.value.savedAt, session.zone, now.value)}`
})
const { isKept, bringBack, dropKept, keepAsCopy, attempts } = desk

/** Dates are those of somebody who starts at this moment; without one, times since the start are shown. */
const start = ref<string | null>(null)
const opened = Date.parse(now.value)
const timetable = computed(() =>
  start.value === null
    ? layoutTimetable(program.value, opened, 'elapsed')
    : layoutTimetable(program.value, Date.parse(start.value)),
)
const names = computed(() => vocabulary.words.names)

const { data: numbers } = useLoaded(
  (signal) => call(api.followups.numbers, { params, signal }),
  ['followups', 'email'],
)
const numbersOf = computed(() => new Map((numbers.value?.steps ?? []).map((each) => [each.step, each])))
const notes = computed(
  () =>
    new Map(
      [...numbersOf.value].map(([id, { waiting, outcomes, opened: read }]): [string, StepNote] => {
        const sent = outcomes.sent ?? 0
        const rate = rateOf(read, sent).words
        const words = sent > 0 ? `${countOf(sent)} sent${rate.endsWith('%') ? `, ${rate} opened` : ''}` : ''
        const done = (outcomes.tagged ?? 0) + (outcomes.did ?? 0)
        return [id, { waiting, words: words || (done > 0 ? countOf(done) : '') }]
      }),
    ),
)
const findings = computed(() => draft.state.value.findings)
const faults = computed(
  () =>
    new Set(findings.value.flatMap(({ level, part }) => (level === 'error' && part !== null ? [part] : []))),
)

const insertAt = ref<StepPlace | null>(null)
const inserting = computed({ get: () => insertAt.value !== null, set: () => (insertAt.value = null) })
const choices = computed(() =>
  allStepKinds.map((kind) => {
    const { title, foundBy, needs, fresh } = stepKinds[kind]
    const made = fresh('x', vocabulary.words)
    return { kind, title: made ? title : `${title} (first make ${needs})`, foundBy, can: made !== null }
  }),
)
async function insert({ kind, can }: (typeof choices.value)[number]): Promise<void> {
  const at = insertAt.value
  const made = can ? stepKinds[kind].fresh(newPartId(), vocabulary.words) : null
  if (!at || !made) return
  editing.insert(made, at)
  await nextTick()
  document.getElementById(`stop-${made.id}`)?.focus()
}

const inspector = useTemplateRef<HTMLElement>('inspector')
const onKey = timetableKeys(editing, {
  askInsert: () => (insertAt.value = editing.placeAfter()),
  inspect: () =>
    void nextTick(() => inspector.value?.querySelector<HTMLElement>('input, button, a')?.focus()),
})

/** A new email of its own for the selected step, opened to be written; one comes back from there. */
const newEmail = (): Promise<boolean> =>
  attempts.attempt(async () => {
    const of = step.value
    const [point] = emailPoints
    if (of?.kind !== 'send' || !point) return
    const name = `${props.view.name}: ${allSteps(program.value.steps).filter(({ kind }) => kind === 'send').length}`
    const { id } = await call(api.emails.create, { body: { name, content: emailFrom(point, newPartId) } })
    editing.change({ ...of, email: id })
    // The draft hears of it before it is saved and left.
    await nextTick()
    await draft.save()
    await router.push({ path: `/library/emails/${id}`, query: { back: route.path } })
  })

const mends: { [K in Mend['does']]: (mend: Extract<Mend, { does: K }>) => void } = {
  publishEmail: ({ email }) =>
    void attempts.attempt(async () => {
      const { version, revision } = await call(api.emails.view, { params: { id: email } })
      await call(api.emails.publish, { params: { id: email }, body: { version, revision } })
      await draft.save()
      emit('reload')
    }),
  removeStep({ step: id }) {
    editing.select(id)
    editing.remove()
  },
  leaveAtPurchase: () =>
    editing.set({ leavesWhen: [...program.value.leavesWhen, { when: { kind: 'productBought' } }] }),
}
const mend = (wish: Mend): void => (mends[wish.does] as (mend: Mend) => void)(wish)

const goBack = (version: number): Promise<boolean> =>
  attempts.attempt(async () => {
    await call(api.followups.goBack, { params, body: { version } })
    emit('reload')
  })

const goingLive = ref(false)
async function askGoLive(): Promise<void> {
  if (await draft.save()) goingLive.value = true
}

/** Where in time the selected step stands. */
const elapsed = computed(() => {
  const id = selected.value
  const cell = timetable.value.cells.find((each) => each.step === id)
  const stretched = timetable.value.stretches.find((each) => each.step === id)
  return timetable.value.columns[cell?.column ?? stretched?.from ?? 0]?.at ?? 0
})
const starts = computed(() => {
  const { zone } = program.value
  const today = DateTime.fromMillis(opened, { zone }).startOf('day')
  const at = (date: DateTime): string => date.toUTC().toISO() ?? ''
  return [
    { title: 'Time since the start', run: () => (start.value = null) },
    { title: 'Dates for a start now', run: () => (start.value = new Date(opened).toISOString()) },
    {
      title: 'Dates for a start tomorrow, 09:00',
      run: () => (start.value = at(today.plus({ days: 1, hours: 9 }))),
    },
    {
      title: 'Dates for a start on Saturday, 20:00',
      run: () => (start.value = at(today.plus({ days: (13 - today.weekday) % 7 || 7 }).set({ hour: 20 }))),
    },
  ]
})
const title = (id: string): string => {
  const found = allSteps(program.value.steps).find((each) => each.id === id)
  return found ? describeStep(found, names.value).title : ''
}
</script>

<template>
  <div class="desk">
    <FollowupBar
      :view="view"
      :draft="draft"
      :numbers="numbers"
      @go="(part: string) => editing.select(part)"
      @go-live="askGoLive"
      @reload="emit('reload')"
    />
    <EditorNotes
      :draft="draft"
      :refused="attempts.refused.value"
      :kept="isKept"
      @bring-back="bringBack"
      @discard="dropKept"
      @reload="emit('reload')"
      @keep-as-copy="keepAsCopy"
    >
      <v-alert v-if="unfinished !== null" type="info" density="compact">
        Not saved yet, since something is not finished: {{ unfinished }}
      </v-alert>
    </EditorNotes>
    <div class="two">
      <section class="panel" aria-label="Timetable">
        <div class="tools">
          <ActionMenu
            :label="start === null ? 'Time since the start' : 'Dates for a start then'"
            size="small"
            :actions="starts"
          />
          <v-btn size="small" variant="outlined" @click="insertAt = editing.placeAfter()">
            Add a step{{ selected === null ? '' : ` after ${title(selected)}` }}
          </v-btn>
          <v-btn
            :icon="mdiUndo"
            size="small"
            variant="text"
            aria-label="Undo"
            :disabled="!editing.canUndo.value"
            @click="editing.undo()"
          />
          <v-btn
            :icon="mdiRedo"
            size="small"
            variant="text"
            aria-label="Redo"
            :disabled="!editing.canRedo.value"
            @click="editing.redo()"
          />
          <span class="grow" />
          <span class="soft" role="status">{{ savedWords }}</span>
        </div>
        <TimetableChart
          class="chart"
          :timetable="timetable"
          :steps="program.steps"
          :names="names"
          :notes="notes"
          :selected="selected"
          :stretch="stretch"
          :faults="faults"
          @keydown="onKey"
          @select="editing.select"
          @insert="(at: StepPlace) => (insertAt = at)"
          @move="editing.move"
        />
      </section>
      <aside ref="inspector" class="panel inspect" aria-label="Inspector">
        <StepInspector
          v-if="step"
          :key="step.id"
          :model-value="step"
          :names="names"
          :numbers="numbersOf.get(step.id) ?? null"
          :findings="findings"
          :at="{ zone: program.zone, now: opened + elapsed, elapsed }"
          :webhook-secret="view.webhookSecret"
          :busy="attempts.busy.value"
          @update:model-value="editing.change"
          @mend="mend"
          @new-email="newEmail"
          @remove="editing.remove"
        />
        <ProgramInspector
          v-else
          :model-value="program"
          :view="view"
          @update:model-value="editing.set"
          @go-back="goBack"
        />
        <v-btn v-if="step" variant="text" size="small" @click="editing.select(null)"
          >Follow-up settings</v-btn
        >
      </aside>
    </div>
    <AddDialog
      v-model="inserting"
      title="Add a step"
      label="What to add"
      :choices="choices"
      @choose="insert"
    />
    <GoLiveDialog v-model="goingLive" :view="view" :draft="draft.state.value" @done="emit('reload')" />
  </div>
</template>

<style scoped>
.desk {
  display: flex;
  flex-direction: column;
  height: calc(100vh - 104px);
  padding: 12px 24px 0;
  gap: 8px;
}

.two {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 360px;
  gap: 12px;
}

.two > section {
  display: flex;
  flex-direction: column;
  min-height: 0;
}

.tools {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 10px;
  padding: 8px 12px;
  border-bottom: 1px solid var(--rule);
}

.chart {
  flex: 1;
  min-height: 0;
}

.inspect {
  overflow: auto;
  padding: 14px 16px;
}

@media (max-width: 1100px) {
  .two {
    grid-template-columns: minmax(0, 1fr) 300px;
  }
}

.grow {
  flex: 1;
}
</style>
