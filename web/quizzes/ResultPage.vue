<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import type { BlockDocument, Section } from '../../core/blocks/document.ts'
import type { Part, Place } from '../../core/blocks/operations.ts'
import type { PageContext } from '../../core/pages/context.ts'
import { copySelected, deskKeys } from '../blocks/deskKeys.ts'
import { placeAfter, type Editing } from '../blocks/editing.ts'
import EditorDesk from '../blocks/EditorDesk.vue'
import InsertMenu from '../blocks/InsertMenu.vue'
import PartInspector from '../blocks/inspector/PartInspector.vue'
import OutlineView from '../blocks/OutlineView.vue'
import { pagePainter } from '../blocks/painter.ts'
import SheetView from '../blocks/SheetView.vue'

/** The page of a result: outline, sheet and inspector as for any page. */
const props = defineProps<{ editing: Editing; name: string; context: PageContext }>()
const emit = defineEmits<{ change: [document: BlockDocument]; back: []; saveSection: [section: Section] }>()
defineSlots<{ bar(): unknown }>()
const { document, selected } = props.editing
watch(props.editing.edits, () => emit('change', document.value))

const painter = computed(() => pagePainter(props.context, true))
const insertAt = ref<Place | null>(null)
const sheet = useTemplateRef<InstanceType<typeof SheetView>>('sheet')
const outline = useTemplateRef<InstanceType<typeof OutlineView>>('outline')

function insert(part: Part, at: Place): void {
  props.editing.insert(part, at)
  void nextTick(() => outline.value?.focusSelected())
}
const pressed = deskKeys(props.editing, {
  askInsert() {
    insertAt.value = placeAfter(document.value, selected.value, props.editing.part.value === null)
  },
  write: (id) => sheet.value?.write(id),
  leave: () => outline.value?.focusSelected(),
})
</script>

<template>
  <EditorDesk>
    <template #bar><slot name="bar" /></template>
    <template #outline>
      <OutlineView ref="outline" :editing="editing" @insert="(at: Place) => (insertAt = at)" @key="pressed" />
    </template>
    <template #sheet>
      <SheetView
        ref="sheet"
        :editing="editing"
        :painter="painter"
        :title="`The result “${name}” as visitors see it`"
        :wide="1120"
        width="wide"
        @key="pressed"
      />
    </template>
    <template #inspector>
      <PartInspector
        v-if="editing.part.value"
        :editing="editing"
        :editor="sheet?.sheet?.richText ?? null"
        @copy="copySelected(editing)"
        @save-section="(section: Section) => emit('saveSection', section)"
      />
      <p v-else class="soft">Choose a part of the page to change it.</p>
      <v-btn variant="text" size="small" @click="emit('back')">Back to the score sheet</v-btn>
    </template>
    <template #more>
      <InsertMenu :at="insertAt" medium="page" @insert="insert" @close="insertAt = null" />
    </template>
  </EditorDesk>
</template>
