<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { FunnelCheck, Mended } from '../../contract/funnels.ts'
import { mendWords } from '../../core/funnels/finding.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { dayOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'

/** What the departure check finds of a whole funnel, and what puts it right. */
const props = defineProps<{ id: number; name: string; findings: FunnelCheck }>()
const emit = defineEmits<{ changed: []; close: [] }>()
type Found = FunnelCheck[number]
const session = useSession()
const params = { id: props.id }
const { refused, busy, attempt } = useAttempts()

const groups = computed(() => [
  { title: 'Keeps it from going live', found: props.findings.filter(({ level }) => level === 'error') },
  {
    title: 'Could be better',
    found: props.findings.filter(({ level, accepted }) => level === 'advice' && !accepted),
  },
  { title: 'Accepted', found: props.findings.filter(({ accepted }) => accepted) },
])
const mendable = computed(() => props.findings.filter(({ level, mend }) => level === 'error' && mend))

/** What undoes the last mends, the newest last. */
type Undoable = Exclude<Mended, { thing: 'none' }>
const undone = ref<Undoable[]>([])
async function press({ mend }: Found): Promise<void> {
  if (!mend) return
  const done = await call(api.funnels.mend, { params, body: mend })
  if (done.thing !== 'none') undone.value.push(done)
}
const mendOne = (found: Found): Promise<boolean> =>
  attempt(async () => {
    await press(found)
    emit('changed')
  })
const mendAll = (): Promise<boolean> =>
  attempt(async () => {
    for (const each of mendable.value) await press(each)
    emit('changed')
  })

/** Saves what was there before a mend, and says where that draft stands now; who has changed it since keeps that. */
async function restore(done: Undoable): Promise<{ version?: number; revision: number }> {
  const thing = { id: done.id }
  if (done.thing === 'line')
    return call(api.funnels.save, { params: thing, body: { revision: done.revision, line: done.before } })
  const place = { version: done.version, revision: done.revision }
  switch (done.thing) {
    case 'page':
      return call(api.pages.save, { params: thing, body: { ...place, content: done.before } })
    case 'email':
      return call(api.emails.save, { params: thing, body: { ...place, content: done.before } })
    case 'followup':
      return call(api.followups.save, { params: thing, body: { ...place, content: done.before } })
  }
}
const undo = (): Promise<boolean> =>
  attempt(async () => {
    const last = undone.value.at(-1)
    if (!last) return
    const { version, revision } = await restore(last)
    // Earlier mends of the same thing go on from there.
    undone.value = undone.value
      .slice(0, -1)
      .map((each) =>
        each.thing === last.thing && each.id === last.id
          ? { ...each, revision, ...(version !== undefined && { version }) }
          : each,
      )
    emit('changed')
  })

const accepting = ref<string | null>(null)
const why = ref('')
const accept = (words: string, reason: string | null): Promise<boolean> =>
  attempt(async () => {
    await call(api.funnels.accept, { params, body: { words, why: reason } })
    accepting.value = null
    why.value = ''
    emit('changed')
  })
</script>

<template>
  <section class="check" aria-labelledby="departure-check">
    <div class="head">
      <h2 id="departure-check">Departure check</h2>
      <v-btn v-if="undone.length" size="small" variant="text" :loading="busy" @click="undo">Undo mend</v-btn>
      <v-btn size="small" variant="text" @click="$emit('close')">Close</v-btn>
    </div>
    <ProblemNote :problem="refused" />
    <p v-if="!findings.length">Nothing is in the way: it can depart.</p>
    <v-btn v-if="mendable.length > 1" size="small" variant="outlined" :loading="busy" @click="mendAll">
      Mend all {{ mendable.length }} that one press can
    </v-btn>
    <template v-for="group in groups" :key="group.title">
      <h3 v-if="group.found.length">{{ group.title }}</h3>
      <ul v-if="group.found.length">
        <li v-for="found in group.found" :key="found.words" :class="found.level">
          <div>{{ found.words.replaceAll(`“${name}: `, '“') }}</div>
          <div v-if="found.accepted" class="soft">
            Accepted by {{ found.accepted.by }} on {{ dayOf(found.accepted.at, session.zone)
            }}<template v-if="found.accepted.why">: {{ found.accepted.why }}</template>
          </div>
          <div class="buttons">
            <v-btn v-if="found.part" size="x-small" variant="text" :to="found.part">Go there</v-btn>
            <v-btn
              v-if="found.mend && !found.accepted"
              size="x-small"
              variant="outlined"
              :disabled="busy"
              @click="mendOne(found)"
            >
              {{ mendWords(found.mend) }}
            </v-btn>
            <v-btn
              v-if="found.accepted"
              size="x-small"
              variant="text"
              :disabled="busy"
              @click="accept(found.words, null)"
            >
              Find it again
            </v-btn>
            <v-btn
              v-else-if="found.level === 'advice'"
              size="x-small"
              variant="text"
              @click="accepting = accepting === found.words ? null : found.words"
            >
              Accept
            </v-btn>
          </div>
          <v-form v-if="accepting === found.words" class="why" @submit.prevent="accept(found.words, why)">
            <v-text-field v-model="why" label="Why it stays as it is" maxlength="300" autofocus />
            <v-btn type="submit" size="small" color="primary" :loading="busy">Accept it</v-btn>
          </v-form>
        </li>
      </ul>
    </template>
  </section>
</template>

<style scoped>
.check {
  padding: 16px;
}

.head {
  display: flex;
  gap: 4px;
  align-items: baseline;
}

.head h2 {
  flex: 1;
}

h3 {
  margin: 14px 0 4px;
  font-size: 0.85rem;
}

ul {
  display: grid;
  gap: 8px;
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  padding-left: 10px;
  border-left: 3px solid var(--rule);
}

li.error {
  border-left-color: rgb(var(--v-theme-error));
}

.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin-left: -8px;
}

.why {
  display: grid;
  gap: 6px;
  justify-items: start;
}

.why > :first-child {
  width: 100%;
}
</style>
