<script setup lang="ts">
import {
  mdiFormatBold,
  mdiFormatItalic,
  mdiFormatListBulleted,
  mdiFormatListNumbered,
  mdiLinkOff,
  mdiLinkPlus,
} from '@mdi/js'
import type { Editor } from '@tiptap/core'
import { onBeforeUnmount, ref, watch } from 'vue'
import type { MergeField } from '../../../core/blocks/mergeText.ts'
import { target as targetShape, nowhere, type Target } from '../../../core/blocks/target.ts'
import { newPartId } from '../editing.ts'
import MergeFieldPicker from './MergeFieldPicker.vue'
import TargetInput from './TargetInput.vue'

/** What can be done with the words that are selected in a text. */
const props = defineProps<{ editor: Editor | null }>()

const on = ref({ bold: false, italic: false, bulletList: false, orderedList: false, link: false })
const linkTarget = ref<Target>(nowhere)

function look(): void {
  const { editor } = props
  on.value = {
    bold: editor?.isActive('bold') ?? false,
    italic: editor?.isActive('italic') ?? false,
    bulletList: editor?.isActive('bulletList') ?? false,
    orderedList: editor?.isActive('orderedList') ?? false,
    link: editor?.isActive('link') ?? false,
  }
  const read = targetShape.safeParse(editor?.getAttributes('link').target)
  linkTarget.value = read.success ? read.data : nowhere
}
watch(
  () => props.editor,
  (now, before) => {
    before?.off('transaction', look)
    now?.on('transaction', look)
    look()
  },
  { immediate: true },
)
onBeforeUnmount(() => props.editor?.off('transaction', look))

const chain = () => props.editor?.chain().focus()
const tools = [
  { label: 'Bold', icon: mdiFormatBold, key: 'bold', run: () => chain()?.toggleMark('bold').run() },
  { label: 'Italic', icon: mdiFormatItalic, key: 'italic', run: () => chain()?.toggleMark('italic').run() },
  {
    label: 'Bullets',
    icon: mdiFormatListBulleted,
    key: 'bulletList',
    run: () => chain()?.toggleList('bulletList', 'listItem').run(),
  },
  {
    label: 'Numbers',
    icon: mdiFormatListNumbered,
    key: 'orderedList',
    run: () => chain()?.toggleList('orderedList', 'listItem').run(),
  },
] as const

const link = (): void => {
  chain()?.setMark('link', { id: newPartId(), target: nowhere }).run()
}
const unlink = (): void => {
  chain()?.extendMarkRange('link').unsetMark('link').run()
}
function setTarget(next: Target): void {
  const { editor } = props
  editor
    ?.chain()
    .extendMarkRange('link')
    .setMark('link', { ...editor.getAttributes('link'), target: next })
    .run()
}
const picking = ref(false)
const addField = (attrs: MergeField): void => {
  chain()?.insertContent({ type: 'mergeField', attrs }).run()
}
</script>

<template>
  <div v-if="editor" class="tools" role="group" aria-label="Selected words">
    <div class="row">
      <v-btn
        v-for="tool in tools"
        :key="tool.label"
        :icon="tool.icon"
        size="small"
        variant="text"
        :aria-label="tool.label"
        :aria-pressed="on[tool.key]"
        :active="on[tool.key]"
        @mousedown.prevent
        @click="tool.run"
      />
      <v-btn
        :icon="on.link ? mdiLinkOff : mdiLinkPlus"
        size="small"
        variant="text"
        :aria-label="on.link ? 'Take out link' : 'Make a link'"
        @mousedown.prevent
        @click="on.link ? unlink() : link()"
      />
    </div>
    <TargetInput
      v-if="on.link"
      :model-value="linkTarget"
      label="Link leads to"
      @update:model-value="setTarget"
    />
    <v-btn size="small" variant="outlined" @click="picking = true">Insert merge field</v-btn>
    <MergeFieldPicker v-if="picking" v-model="picking" @insert="addField" />
  </div>
  <p v-else class="soft">Click into the text to write, or press Enter.</p>
</template>

<style scoped>
.tools {
  display: grid;
  gap: 10px;
}
</style>
