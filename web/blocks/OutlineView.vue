<script setup lang="ts">
import { mdiCellphoneOff, mdiPlus } from '@mdi/js'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { VueDraggable, type SortableEvent } from 'vue-draggable-plus'
import { traitsOf, type Block } from '../../core/blocks/block.ts'
import type { Section } from '../../core/blocks/document.ts'
import type { Place } from '../../core/blocks/operations.ts'
import { describeBlock, describeSection } from '../../core/blocks/walk.ts'
import type { Editing } from './editing.ts'
import OutlineEntry from './OutlineEntry.vue'
import { useSite } from './site.ts'

/** The document in words: where parts are moved, copied, hidden and found. */
const props = defineProps<{ editing: Editing }>()
const emit = defineEmits<{ insert: [at: Place]; key: [event: KeyboardEvent] }>()
const list = useTemplateRef<HTMLElement>('list')
const { document, selected, apply, duplicate, remove } = props.editing

const library = useSite()
/** What a block says; a form by its name in the Library. */
function wordsOf(block: Block): string {
  const form = block.kind === 'form' ? library.site?.forms.find(({ id }) => id === block.form) : undefined
  return form ? `form: ${form.name}` : describeBlock(block)
}

const typed = ref('')
const wanted = computed(() => typed.value.trim().toLowerCase())
const matches = (words: string): boolean => words.toLowerCase().includes(wanted.value)

const sections = computed(() =>
  document.value.sections.map((section, index) => ({
    section,
    index,
    words: describeSection(section),
    columns: section.columns.map((column) => ({
      column,
      blocks: column.blocks.map((block) => ({
        block,
        words: wordsOf(block),
        kind: traitsOf(block.kind).name,
      })),
    })),
  })),
)

/** The ids in the order in which the arrows walk them. */
const order = computed(() =>
  sections.value.flatMap(({ section, columns }) => [
    section.id,
    ...columns.flatMap(({ blocks }) => blocks.map(({ block }) => block.id)),
  ]),
)

/** What is selected in a section: an entry is drawn anew only when it, or what is selected in it, has changed. */
const selectedIn = (section: Section): string | null =>
  section.id === selected.value ||
  section.columns.some(({ blocks }) => blocks.some(({ id }) => id === selected.value))
    ? selected.value
    : null

/** Drags end as moves of the document; what the library moved is drawn from that again. */
function dropped(event: SortableEvent): void {
  const { item, to, newIndex } = event
  const id = item.dataset.id
  if (id === undefined || newIndex === undefined) return
  apply({ do: 'move', id, to: { column: to.dataset.column ?? null, index: newIndex } })
}

async function focusSelected(): Promise<void> {
  await nextTick()
  const row = list.value?.querySelector<HTMLElement>(`[data-row="${selected.value}"]`)
  ;(row ?? list.value?.querySelector<HTMLElement>('[data-row][tabindex="0"]'))?.focus()
}

function walk(step: -1 | 1): void {
  const at = order.value.indexOf(selected.value ?? '')
  const next = order.value[at < 0 ? 0 : Math.min(order.value.length - 1, Math.max(0, at + step))]
  if (next !== undefined) selected.value = next
  void focusSelected()
}

function pressed(event: KeyboardEvent): void {
  if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
    if (event.altKey) {
      emit('key', event)
      void focusSelected()
      return
    }
    event.preventDefault()
    walk(event.key === 'ArrowDown' ? 1 : -1)
    return
  }
  emit('key', event)
  // What was focused may be gone, or another part is selected now.
  if (event.key === 'Delete' || event.ctrlKey || event.metaKey) void focusSelected()
}

watch(selected, (id) => {
  list.value?.querySelector<HTMLElement>(`[data-row="${id}"]`)?.scrollIntoView({ block: 'nearest' })
})
defineExpose({ focusSelected })
</script>

<template>
  <div class="outline">
    <v-text-field v-model="typed" label="Find a part" clearable class="find" />
    <nav ref="list" aria-label="Outline" @keydown="pressed">
      <VueDraggable
        :model-value="sections"
        tag="div"
        handle=".section"
        group="sections"
        :animation="0"
        @update="dropped"
      >
        <div
          v-for="{ section, index, words, columns } in sections"
          :key="section.id"
          v-memo="[section, index, selectedIn(section), selected === null, wanted]"
          :data-id="section.id"
        >
          <v-btn
            v-show="!wanted"
            class="insert"
            variant="text"
            size="x-small"
            :prepend-icon="mdiPlus"
            :aria-label="`Add a section before “${words}”`"
            @click="emit('insert', { column: null, index })"
          />
          <OutlineEntry
            v-show="!wanted || matches(words)"
            :id="section.id"
            class="section"
            heads
            :words="words"
            :selected="selected === section.id"
            :focusable="selected === section.id || (selected === null && index === 0)"
            @select="selected = section.id"
          >
            <v-icon
              v-if="section.hiddenOnPhones"
              :icon="mdiCellphoneOff"
              size="14"
              aria-label="hidden on phones"
            />
          </OutlineEntry>
          <template v-for="{ column, blocks } in columns" :key="column.id">
            <VueDraggable
              :model-value="blocks"
              tag="div"
              class="column"
              group="blocks"
              :animation="0"
              :data-column="column.id"
              @update="dropped"
              @add="dropped"
            >
              <div v-for="{ block, words: said, kind } in blocks" :key="block.id" :data-id="block.id">
                <OutlineEntry
                  v-show="!wanted || matches(said) || matches(kind)"
                  :id="block.id"
                  :words="said"
                  :selected="selected === block.id"
                  :focusable="selected === block.id"
                  can-duplicate
                  can-delete
                  @select="selected = block.id"
                  @duplicate="duplicate(block.id)"
                  @delete="remove(block.id)"
                >
                  <v-icon
                    v-if="block.hiddenOnPhones"
                    :icon="mdiCellphoneOff"
                    size="14"
                    aria-label="hidden on phones"
                  />
                </OutlineEntry>
              </div>
            </VueDraggable>
            <v-btn
              v-show="!wanted"
              class="insert inner"
              variant="text"
              size="x-small"
              :prepend-icon="mdiPlus"
              :aria-label="`Add to “${words}”`"
              @click="emit('insert', { column: column.id, index: column.blocks.length })"
              >add</v-btn
            >
          </template>
        </div>
      </VueDraggable>
      <v-btn
        variant="text"
        size="small"
        :prepend-icon="mdiPlus"
        @click="emit('insert', { column: null, index: document.sections.length })"
        >Add section</v-btn
      >
    </nav>
  </div>
</template>

<style scoped>
.outline {
  display: flex;
  flex-direction: column;
  min-height: 0;
}

.find {
  flex: none;
  margin: 8px;
}

nav {
  overflow: auto;
  padding: 0 8px 16px;
}

.column {
  margin-left: 10px;
  padding-left: 4px;
  border-left: 1px solid var(--rule);
  min-height: 8px;
}

.insert {
  display: block;
  min-width: 0;
  width: 100%;
  height: 14px;
  opacity: 0;
  color: var(--petrol);
}

.insert.inner {
  margin-left: 10px;
  width: auto;
  height: 18px;
  opacity: 1;
  color: var(--ink-soft);
  font-weight: 400;
}

.insert:hover,
.insert:focus-visible {
  opacity: 1;
}
</style>
