<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, onBeforeUnmount, onMounted, shallowRef, useTemplateRef, watch } from 'vue'
import type { BlockDocument } from '../../core/blocks/document.ts'
import { findPart, isSection } from '../../core/blocks/operations.ts'
import { traitsOf } from '../../core/blocks/block.ts'
import type { Editing } from './editing.ts'
import type { Painter } from './painter.ts'
import { withValueAt } from './paths.ts'
import { openRichText } from './richTextEditor.ts'
import { Sheet } from './sheet.ts'

/** The document at its true width. */
const props = defineProps<{
  editing: Editing
  painter: Painter
  /** What the frame is called. */
  title: string
  /** How wide it is laid out on a wide screen (px). */
  wide: number
  width: 'wide' | 'phone'
}>()
const emit = defineEmits<{ key: [event: KeyboardEvent] }>()
const frame = useTemplateRef<HTMLIFrameElement>('frame')
const room = useTemplateRef<HTMLElement>('room')

/** The document is laid out at this width, and drawn smaller where there is less room. */
const widths = { wide: props.wide, phone: 390 }
const height = shallowRef(600)
const { width: available } = useElementSize(room)
const scale = computed(() => (available.value > 0 ? Math.min(1, available.value / widths[props.width]) : 1))
const drawnAt = computed(() => ({
  width: `${widths[props.width]}px`,
  height: `${height.value}px`,
  transform: `scale(${scale.value})`,
}))
const placed = computed(() => ({
  width: `${widths[props.width] * scale.value}px`,
  height: `${height.value * scale.value}px`,
}))
const sheet = shallowRef<Sheet | null>(null)
const { document, selected, change } = props.editing

const partOf = (id: string) => findPart(document.value, id)?.part

const nameOf = (id: string | null): string => {
  const part = id === null ? undefined : partOf(id)
  if (!part) return ''
  return isSection(part) ? 'section' : traitsOf(part.kind).name
}

function enter(element: HTMLElement, id: string) {
  const part = partOf(id)
  if (!part || isSection(part) || part.kind !== 'text') return null
  return openRichText(element, part.content, {
    label: part.guidance || 'Text',
    onChange(content) {
      const now = partOf(id)
      if (now && !isSection(now) && now.kind === 'text') change({ ...now, content }, `write ${id}`)
    },
  })
}

/** Draws the document once it is ready; of one that has changed meanwhile only the latest. */
async function draw(next: BlockDocument, paint: (sheet: Sheet) => void): Promise<void> {
  const { painter } = props
  try {
    await painter.prepare?.(next)
  } catch {
    // The server is away, and the editor says so: what was typed stays on the sheet.
    return
  }
  if (sheet.value && document.value === next && props.painter === painter) paint(sheet.value)
}

function open(): void {
  if (!frame.value) return
  sheet.value = new Sheet(frame.value, props.title, props.painter, {
    select: (id) => (selected.value = id),
    write(id, path, words) {
      const part = partOf(id)
      if (part) change(withValueAt(part, path, words), `write ${id} ${path}`)
    },
    enter,
    key: (event) => emit('key', event),
    resize: (needed) => (height.value = needed),
  })
  void draw(document.value, (opened) => opened.draw(document.value))
}

onMounted(open)
onBeforeUnmount(() => sheet.value?.close())
watch(document, (next) => {
  // What can be drawn at once is: a letter that is typed waits for nothing.
  if (props.painter.prepare) void draw(next, (drawn) => drawn.draw(next))
  else sheet.value?.draw(next)
})
watch(
  () => props.painter,
  (painter) =>
    void draw(document.value, (drawn) => {
      drawn.renew(painter, document.value)
      drawn.choose(selected.value, nameOf(selected.value))
    }),
)
watch(selected, (id) => sheet.value?.choose(id, nameOf(id)))
watch(
  () => props.width,
  () => requestAnimationFrame(() => sheet.value?.resize()),
)

defineExpose({
  /** Goes into a part to write in it. */
  write: (id: string) => sheet.value?.write(id),
  sheet,
})
</script>

<template>
  <div class="around" tabindex="0" role="region" aria-label="Sheet">
    <div ref="room">
      <div class="place" :style="placed">
        <iframe ref="frame" :title="title" :style="drawnAt" />
      </div>
    </div>
  </div>
</template>

<style scoped>
.around {
  overflow: auto;
  background: color-mix(in srgb, var(--rule) 45%, var(--paper));
  padding: 16px;
}

.place {
  margin: 0 auto;
  border: 1px solid var(--rule);
  box-sizing: content-box;
}

iframe {
  border: 0;
  background: #fff;
  display: block;
  transform-origin: 0 0;
}
</style>
