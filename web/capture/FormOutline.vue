<script setup lang="ts">
import { mdiPlus } from '@mdi/js'
import { computed, nextTick, useTemplateRef } from 'vue'
import { VueDraggable, type SortableEvent } from 'vue-draggable-plus'
import { describeField } from '../../core/capture/describeForm.ts'
import type { FieldPlace } from '../../core/capture/formEdits.ts'
import OutlineEntry from '../blocks/OutlineEntry.vue'
import { useSite } from '../blocks/site.ts'
import type { FormEditing } from './formEditing.ts'

/** A form in words: its steps and fields, moved by dragging and by keys. */
const props = defineProps<{ editing: FormEditing }>()
const emit = defineEmits<{ insert: [at: FieldPlace] }>()
const library = useSite()
const list = useTemplateRef<HTMLElement>('list')
const { content, selected, move, shift, remove, duplicate, addStep, undo, redo } = props.editing

const steps = computed(() =>
  content.value.steps.map((step, index) => ({
    step,
    words: step.title || (content.value.steps.length > 1 ? `Step ${index + 1}` : 'Fields'),
    fields: step.fields.map((field) => ({ field, words: describeField(field, library.site?.fields ?? []) })),
  })),
)
const order = computed(() =>
  content.value.steps.flatMap(({ id, fields }) => [id, ...fields.map((field) => field.id)]),
)

function dropped({ item, to, newIndex }: SortableEvent): void {
  const { id } = item.dataset
  const step = Number(to.dataset.step)
  if (id !== undefined && newIndex !== undefined) move(id, { step, index: newIndex })
}

async function focusSelected(): Promise<void> {
  await nextTick()
  list.value?.querySelector<HTMLElement>(`[data-row="${selected.value}"]`)?.focus()
}

/** Where something is added after what is selected. */
function placeAfter(): FieldPlace {
  const { steps: all } = content.value
  for (const [step, { id, fields }] of all.entries()) {
    const index = fields.findIndex((field) => field.id === selected.value)
    if (index >= 0) return { step, index: index + 1 }
    if (id === selected.value) return { step, index: 0 }
  }
  return { step: all.length - 1, index: all.at(-1)?.fields.length ?? 0 }
}

function walk(by: -1 | 1): void {
  const at = order.value.indexOf(selected.value ?? '')
  selected.value = order.value[at < 0 ? 0 : Math.min(order.value.length - 1, Math.max(0, at + by))] ?? null
}

function pressed(event: KeyboardEvent): void {
  // Keys are about what has the focus, also before anything was selected.
  selected.value ??= (event.target as HTMLElement).dataset.row ?? null
  const id = selected.value
  const control = event.ctrlKey || event.metaKey
  const arrow = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : null
  if (arrow !== null) {
    if (event.altKey && id !== null) shift(id, arrow)
    else walk(arrow)
  } else if (event.key === 'Delete' && id !== null) {
    const at = order.value.indexOf(id)
    remove(id)
    selected.value = order.value[Math.min(at, order.value.length - 1)] ?? null
  } else if (event.key === 'Insert' || event.key === '/') emit('insert', placeAfter())
  else if (control && event.key === 'd' && id !== null) duplicate(id)
  else if (control && event.key.toLowerCase() === 'z') (event.shiftKey ? redo : undo)()
  else if (control && event.key === 'y') redo()
  else return
  event.preventDefault()
  void focusSelected()
}
defineExpose({ focusSelected })
</script>

<template>
  <nav ref="list" aria-label="Outline" @keydown="pressed">
    <div v-for="({ step, words, fields }, s) in steps" :key="step.id">
      <OutlineEntry
        :id="step.id"
        heads
        :words="words"
        :selected="selected === step.id"
        :focusable="selected === step.id || (selected === null && s === 0)"
        :can-delete="steps.length > 1"
        @select="selected = step.id"
        @delete="remove(step.id)"
      />
      <VueDraggable
        :model-value="fields"
        tag="div"
        class="fields"
        group="fields"
        :animation="0"
        :data-step="s"
        @update="dropped"
        @add="dropped"
      >
        <div v-for="{ field, words: said } in fields" :key="field.id" :data-id="field.id">
          <OutlineEntry
            :id="field.id"
            :words="said"
            :selected="selected === field.id"
            :focusable="selected === field.id"
            can-duplicate
            can-delete
            @select="selected = field.id"
            @duplicate="duplicate(field.id)"
            @delete="remove(field.id)"
          />
        </div>
      </VueDraggable>
      <v-btn
        class="insert"
        variant="text"
        size="x-small"
        :prepend-icon="mdiPlus"
        :aria-label="`Add to “${words}”`"
        @click="emit('insert', { step: s, index: fields.length })"
        >add</v-btn
      >
    </div>
    <v-btn variant="text" size="small" :prepend-icon="mdiPlus" @click="addStep">Add step</v-btn>
  </nav>
</template>

<style scoped>
nav {
  overflow: auto;
  padding: 8px 8px 16px;
}

.fields {
  margin-left: 10px;
  padding-left: 4px;
  border-left: 1px solid var(--rule);
  min-height: 8px;
}

.insert {
  margin-left: 10px;
  height: 18px;
  color: var(--ink-soft);
  font-weight: 400;
}
</style>
