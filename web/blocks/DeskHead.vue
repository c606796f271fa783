<script setup lang="ts" generic="Content, State extends DraftState">
import type { DraftState, ThingState } from '../../contract/drafts.ts'
import type { Desk } from './desk.ts'
import type { Draft } from './draft.ts'
import EditorBar, { type EditHistory } from './EditorBar.vue'
import EditorNotes from './EditorNotes.vue'

/** The head of an editor: its bar, and below it what there is to say. */
const props = defineProps<{
  name: string
  state: ThingState
  draft: Draft<Content, State>
  history: EditHistory
  desk: Desk
}>()
defineEmits<{
  /** A finding leads to its part. */
  go: [part: string]
  reload: []
}>()
const { isKept, bringBack, dropKept, publish, keepAsCopy } = props.desk
const { refused, busy } = props.desk.attempts
</script>

<template>
  <EditorBar
    :name="name"
    :state="state"
    :draft="draft"
    :history="history"
    :busy="busy"
    @go="(part: string) => $emit('go', part)"
    @publish="publish"
  >
    <slot />
    <template #action><slot name="action" /></template>
  </EditorBar>
  <EditorNotes
    :draft="draft"
    :refused="refused"
    :kept="isKept"
    @bring-back="bringBack"
    @discard="dropKept"
    @reload="$emit('reload')"
    @keep-as-copy="keepAsCopy"
  >
    <slot name="notes" />
  </EditorNotes>
</template>
