<script setup lang="ts">
import { mdiArrowRight, mdiPlus } from '@mdi/js'
import { computed, nextTick, useTemplateRef } from 'vue'
import { VueDraggable, type SortableEvent } from 'vue-draggable-plus'
import type { FindingView } from '../../contract/drafts.ts'
import type { JunctionProofView } from '../../contract/junctions.ts'
import type { SiteView } from '../../contract/pages.ts'
import { leavesOf } from '../../core/audience/segments/condition.ts'
import { describeCondition } from '../../core/audience/segments/describe.ts'
import { otherwise, type JunctionRule } from '../../core/junctions/junction.ts'
import { useVocabulary } from '../audience/segments/vocabulary.ts'
import { targetWords } from '../blocks/targetWords.ts'
import { countOf } from '../wording.ts'
import type { JunctionEditing } from './junctionEditing.ts'

/** A junction as a line that branches: who is like a rule leaves it there, who is left reaches its end. */
const props = defineProps<{
  editing: JunctionEditing
  site: SiteView
  proof: JunctionProofView
  findings: readonly FindingView[]
  /** How many people each rule takes now; null while that is counted. */
  people: ReadonlyMap<string, number> | null
  /** Where somebody who is tried is sent. */
  tried: string | null
}>()
const emit = defineEmits<{ edit: [] }>()
const list = useTemplateRef<HTMLElement>('list')
const { words } = useVocabulary()
const { content, selected, insert, remove, duplicate, move, shift, undo, redo } = props.editing

const asks = ({ when }: JunctionRule): string =>
  leavesOf(when).length === 0 ? 'everybody' : describeCondition(when, words.names, words.scorecards)
const proofOf = (id: string) => props.proof.rules.find((each) => each.id === id)
/** Somebody who gets there, where that says more than the rule itself. */
const exampleOf = (rule: JunctionRule): string | null => {
  const proof = proofOf(rule.id)
  return proof?.is === 'reached' && proof.example !== asks(rule) ? proof.example : null
}
const faultsOf = (id: string): string[] =>
  props.findings.filter(({ part, level }) => part === id && level === 'error').map((each) => each.words)
const peopleWords = (id: string): string => (props.people === null ? '…' : countOf(props.people.get(id) ?? 0))
const order = computed(() => [...content.value.rules.map(({ id }) => id), otherwise])

function dropped({ item, newIndex }: SortableEvent): void {
  const { id } = item.dataset
  if (id !== undefined && newIndex !== undefined) move(id, newIndex)
}

async function focusSelected(): Promise<void> {
  await nextTick()
  list.value?.querySelector<HTMLElement>(`[data-row="${selected.value ?? otherwise}"]`)?.focus()
}

function addAt(at: number): void {
  insert(at)
  emit('edit')
}

function pressed(event: KeyboardEvent): void {
  const row = (event.target as HTMLElement).dataset.row
  if (row === undefined) return
  const at = order.value.indexOf(row)
  const control = event.ctrlKey || event.metaKey
  const arrow = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : null
  if (arrow !== null) {
    if (event.altKey && row !== otherwise) shift(row, arrow)
    else selected.value = order.value[Math.min(order.value.length - 1, Math.max(0, at + arrow))] ?? null
  } else if (event.key === 'Enter' || event.key === ' ') {
    selected.value = row
    emit('edit')
    event.preventDefault()
    return
  } else if (event.key === 'Delete' && row !== otherwise) remove(row)
  else if (event.key === 'Insert') {
    addAt(row === otherwise ? at : at + 1)
    event.preventDefault()
    return
  } else if (control && event.key === 'd' && row !== otherwise) duplicate(row)
  else if (control && event.key.toLowerCase() === 'z') (event.shiftKey ? redo : undo)()
  else if (control && event.key === 'y') redo()
  else return
  event.preventDefault()
  void focusSelected()
}
</script>

<template>
  <section ref="list" class="panel line" aria-label="Rules" @keydown="pressed">
    <p class="entry soft">Everybody who follows the link, tried from the top</p>
    <VueDraggable :model-value="[...content.rules]" tag="ol" :animation="0" handle=".ring" @update="dropped">
      <li
        v-for="(rule, at) in content.rules"
        :key="rule.id"
        :data-id="rule.id"
        :class="{ selected: selected === rule.id, never: faultsOf(rule.id).length, tried: tried === rule.id }"
      >
        <v-btn
          class="insert"
          :icon="mdiPlus"
          size="x-small"
          variant="outlined"
          :aria-label="`Add a rule before rule ${at + 1}`"
          @click="addAt(at)"
        />
        <div
          class="row"
          role="button"
          :tabindex="selected === rule.id || (selected === null && at === 0) ? 0 : -1"
          :data-row="rule.id"
          :aria-current="selected === rule.id || undefined"
          @click="selected = rule.id"
        >
          <span class="ring figures" title="Drag to move">{{ at + 1 }}</span>
          <span class="who">
            <strong v-if="rule.name">{{ rule.name }}</strong>
            <span :class="{ asks: true, soft: rule.name !== '' }">{{ asks(rule) }}</span>
            <span v-for="fault in faultsOf(rule.id)" :key="fault" class="fault">{{ fault }}</span>
            <span v-if="exampleOf(rule)" class="soft example"> For example, who {{ exampleOf(rule) }} </span>
            <span v-if="proofOf(rule.id)?.is === 'open'" class="soft example">
              Too much to prove whether anybody gets here
            </span>
          </span>
          <v-icon :icon="mdiArrowRight" size="18" aria-label="goes to" />
          <span class="where">{{ targetWords(site, rule.target) }}</span>
          <span class="people"
            ><span class="figures">{{ peopleWords(rule.id) }}</span> <span class="soft">now</span></span
          >
        </div>
      </li>
    </VueDraggable>
    <div
      class="rest"
      :class="{
        selected: selected === otherwise,
        never: faultsOf(otherwise).length,
        tried: tried === otherwise,
      }"
    >
      <v-btn
        class="insert"
        :icon="mdiPlus"
        size="x-small"
        variant="outlined"
        aria-label="Add a rule at the end"
        @click="addAt(content.rules.length)"
      />
      <div
        class="row"
        role="button"
        :tabindex="selected === otherwise || (selected === null && content.rules.length === 0) ? 0 : -1"
        :data-row="otherwise"
        :aria-current="selected === otherwise || undefined"
        @click="selected = otherwise"
      >
        <span class="ring end" />
        <span class="who">
          <strong>Otherwise</strong>
          <span v-for="fault in faultsOf(otherwise)" :key="fault" class="fault">{{ fault }}</span>
          <template v-if="proof.provable">
            <span v-if="proof.untaken.length === 0" class="soft">
              Nobody who is known: the rules take everybody
            </span>
            <span v-for="kind in proof.untaken" :key="kind" class="soft">{{ kind }}</span>
          </template>
        </span>
        <v-icon :icon="mdiArrowRight" size="18" aria-label="goes to" />
        <span class="where">{{ targetWords(site, content.otherwise) }}</span>
        <span class="people"
          ><span class="figures">{{ peopleWords(otherwise) }}</span> <span class="soft">now</span></span
        >
      </div>
    </div>
  </section>
</template>

<style scoped>
.line {
  padding: 12px 16px 16px;
}

.entry {
  margin: 0 0 0 6px;
  padding: 0 0 10px 22px;
  border-left: 3px solid var(--petrol);
}

ol {
  list-style: none;
  margin: 0;
  padding: 0;
}

li,
.rest {
  position: relative;
}

/* The line itself; each rule is a station on it. */
li::before,
.rest::before {
  content: '';
  position: absolute;
  left: 6px;
  top: 0;
  bottom: 0;
  border-left: 3px solid var(--petrol);
}

.rest::before {
  bottom: auto;
  height: 40px;
}

.insert {
  position: absolute;
  left: -4px;
  top: -11px;
  z-index: 1;
  width: 22px;
  height: 22px;
  background: var(--surface);
  opacity: 0;
}

li:hover > .insert,
.rest > .insert,
.insert:focus-visible {
  opacity: 1;
}

.row {
  display: grid;
  grid-template-columns: 30px minmax(0, 1fr) 18px minmax(120px, 220px) 92px;
  gap: 12px;
  align-items: start;
  padding: 14px 8px 14px 0;
  border-bottom: 1px solid var(--rule);
  cursor: pointer;
}

.rest .row {
  border-bottom: 0;
}

.row:focus-visible {
  outline: 2px solid var(--petrol);
  outline-offset: -2px;
}

.selected > .row {
  background: color-mix(in srgb, var(--petrol) 7%, var(--surface));
}

.tried > .row {
  background: color-mix(in srgb, var(--lamp) 22%, var(--surface));
}

.ring {
  position: relative;
  z-index: 1;
  display: grid;
  place-items: center;
  width: 26px;
  height: 26px;
  margin-left: -5px;
  border: 3px solid var(--petrol);
  border-radius: 50%;
  background: var(--surface);
  font-size: 12px;
  font-weight: 700;
  cursor: grab;
}

.ring.end {
  background: var(--petrol);
  cursor: default;
}

.never .ring:not(.end) {
  border-color: var(--stop);
  border-style: dashed;
}

.who {
  display: grid;
  gap: 2px;
}

.example {
  font-size: 13px;
}

.fault {
  color: var(--stop);
}

.where {
  font-weight: 600;
  overflow-wrap: anywhere;
}

.people {
  text-align: right;
  white-space: nowrap;
}
</style>
