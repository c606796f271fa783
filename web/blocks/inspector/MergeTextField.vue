<script setup lang="ts">
import { mdiCodeBraces } from '@mdi/js'
import { nextTick, ref, useTemplateRef } from 'vue'
import { VTextarea } from 'vuetify/components/VTextarea'
import { VTextField } from 'vuetify/components/VTextField'
import { writtenField, type MergeField } from '../../../core/blocks/mergeText.ts'
import MergeFieldPicker from './MergeFieldPicker.vue'

/** A line, or a few, into which merge fields can be put where one is writing. */
const props = withDefaults(defineProps<{ label: string; rows?: number; hint?: string | undefined }>(), {
  rows: 1,
  hint: undefined,
})
const text = defineModel<string>({ required: true })

const around = useTemplateRef<HTMLElement>('around')
const input = (): HTMLInputElement | HTMLTextAreaElement | null =>
  around.value?.querySelector<HTMLInputElement | HTMLTextAreaElement>('input, textarea:not([readonly])') ??
  null
/** Where the caret stood: the dialog takes the focus. */
let caret: [number, number] = [0, 0]
const open = ref(false)
function choose(): void {
  const at = input()
  caret = [at?.selectionStart ?? text.value.length, at?.selectionEnd ?? text.value.length]
  open.value = true
}
async function insert(field: MergeField): Promise<void> {
  const words = writtenField(field)
  text.value = `${text.value.slice(0, caret[0])}${words}${text.value.slice(caret[1])}`
  await nextTick()
  input()?.focus()
  const after = caret[0] + words.length
  input()?.setSelectionRange(after, after)
}
</script>

<template>
  <div ref="around">
    <component
      :is="props.rows > 1 ? VTextarea : VTextField"
      v-model="text"
      v-bind="$attrs"
      :label="label"
      :rows="rows > 1 ? rows : undefined"
      :hint="hint"
      :persistent-hint="hint !== undefined"
    >
      <template #append-inner>
        <v-btn
          :icon="mdiCodeBraces"
          size="x-small"
          variant="text"
          :aria-label="`Insert merge field: ${label}`"
          title="Insert merge field"
          @click="choose"
        />
      </template>
    </component>
    <MergeFieldPicker v-if="open" v-model="open" @insert="insert" />
  </div>
</template>
