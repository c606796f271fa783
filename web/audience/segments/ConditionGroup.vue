<script setup lang="ts">
import { mdiClose, mdiFormatListGroup, mdiPlus, mdiSwapHorizontal } from '@mdi/js'
import { computed, nextTick, useTemplateRef } from 'vue'
import type { Condition, Leaf } from '../../../core/audience/segments/condition.ts'
import InlineSelect from '../../frame/InlineSelect.vue'
import ConditionLine from './ConditionLine.vue'
import { isGroup, subjects, unwrap, wrap, type Group } from './subjects.ts'
import { useVocabulary } from './vocabulary.ts'

/** Lines that are all to be true, or any of them; groups nest. Tab goes through everything. */
const props = defineProps<{ depth: number }>()
const group = defineModel<Group>({ required: true })
const vocabulary = useVocabulary()
const lines = useTemplateRef<HTMLUListElement>('lines')

const deepest = 3

function replace(at: number, part: Condition): void {
  group.value = { ...group.value, of: group.value.of.map((each, i) => (i === at ? part : each)) }
}

function negate(at: number, negated: boolean): void {
  const part = group.value.of[at]
  if (part) replace(at, wrap(negated, unwrap(part).inner))
}

function setInner(at: number, inner: Condition | null): void {
  if (!inner) return
  const part = group.value.of[at]
  if (part) replace(at, wrap(unwrap(part).negated, inner))
  else group.value = { ...group.value, of: [inner] }
}

/** A filter without conditions shows a first line that is still to be filled. */
const shown = computed((): { negated: boolean; inner: ReturnType<typeof unwrap>['inner'] | null }[] =>
  props.depth === 0 && group.value.of.length === 0
    ? [{ negated: false, inner: null }]
    : group.value.of.map(unwrap),
)

/** The keyboard stays where the new line is, or at what follows the one that went. */
async function focusLine(at: number): Promise<void> {
  await nextTick()
  const line = lines.value?.children[at]
  line?.querySelector<HTMLElement>('input:not([type=hidden]), button')?.focus()
}

async function add(within: (line: Leaf) => Condition): Promise<void> {
  const part = within(await firstLine())
  const at = group.value.of.length
  group.value = { ...group.value, of: [...group.value.of, part] }
  await focusLine(at)
}

async function remove(at: number): Promise<void> {
  group.value = { ...group.value, of: group.value.of.filter((_, i) => i !== at) }
  await focusLine(at)
}

async function firstLine(): Promise<Leaf> {
  return subjects[0]?.leaf(await vocabulary.known()) ?? { kind: 'hasTag', tag: 0 }
}
const joins = [
  { value: 'all' as const, title: 'and' },
  { value: 'any' as const, title: 'or' },
]
const joined = (): string => (group.value.kind === 'all' ? 'and' : 'or')
</script>

<template>
  <fieldset class="group" :class="{ nested: props.depth > 0 }">
    <legend class="visually-hidden">A group of conditions</legend>
    <ul ref="lines">
      <li v-for="({ negated, inner }, i) in shown" :key="i" v-memo="[inner, negated, group.kind]">
        <span class="join">
          <template v-if="i === 0">{{ props.depth === 0 ? 'everybody who' : '' }}</template>
          <InlineSelect
            v-else-if="i === 1"
            label="And or or"
            :items="joins"
            :model-value="group.kind"
            @update:model-value="(kind) => (group = { ...group, kind })"
          />
          <template v-else>{{ joined() }}</template>
        </span>
        <span v-if="inner && isGroup(inner) && negated" class="join">none who</span>
        <ConditionGroup
          v-if="inner && isGroup(inner)"
          :model-value="inner"
          :depth="props.depth + 1"
          @update:model-value="setInner(i, $event)"
        />
        <ConditionLine
          v-else
          :model-value="inner"
          :negated="negated"
          @update:model-value="setInner(i, $event)"
        />
        <template v-if="inner">
          <v-btn
            :icon="mdiSwapHorizontal"
            size="x-small"
            variant="text"
            title="Negate"
            :aria-label="`Negate line ${i + 1}`"
            :aria-pressed="negated"
            @click="negate(i, !negated)"
          />
          <v-btn
            :icon="mdiClose"
            size="x-small"
            variant="text"
            :aria-label="`Remove line ${i + 1}`"
            @click="remove(i)"
          />
        </template>
      </li>
      <li v-if="shown.every(({ inner }) => inner)" class="more">
        <v-btn size="small" variant="outlined" :prepend-icon="mdiPlus" @click="add((line) => line)">
          Add condition
        </v-btn>
        <v-btn
          v-if="props.depth < deepest"
          size="small"
          variant="text"
          :prepend-icon="mdiFormatListGroup"
          @click="add((line) => ({ kind: group.kind === 'all' ? 'any' : 'all', of: [line] }))"
        >
          Add group
        </v-btn>
      </li>
    </ul>
  </fieldset>
</template>

<style scoped>
.group {
  border: 0;
  margin: 0;
  padding: 0;
  min-width: 0;
}

.nested {
  border-left: 2px solid var(--petrol);
  padding-left: 12px;
  flex: 1;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}

li {
  display: flex;
  align-items: flex-start;
  gap: 6px;
}

.join {
  flex: none;
  min-width: 92px;
  padding-top: 4px;
  color: var(--ink-soft);
}

/* A choice has the height of the line. */
.join:has(.inline) {
  padding-top: 0;
}

.nested .join {
  min-width: 52px;
}

.more {
  margin-top: 2px;
}
</style>
