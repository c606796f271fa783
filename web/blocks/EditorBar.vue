<script lang="ts">
/** What was edited, and the way back. */
export interface EditHistory {
  canUndo: Ref<boolean>
  canRedo: Ref<boolean>
  undo: () => void
  redo: () => void
}
</script>

<script setup lang="ts" generic="Content, State extends DraftState">
import { mdiRedo, mdiUndo } from '@mdi/js'
import { computed, type Ref } from 'vue'
import type { DraftState, ThingState } from '../../contract/drafts.ts'
import { useNowIso } from '../now.ts'
import { useSession } from '../workspace/session.ts'
import { whenOf } from '../wording.ts'
import ChecksMenu from './ChecksMenu.vue'
import type { Draft } from './draft.ts'
import ThingStateMark from './ThingStateMark.vue'

/** The top of an editor: what is edited, whether it is saved, undo and redo, what the checks found, publish. */
const props = defineProps<{
  name: string
  state: ThingState
  draft: Draft<Content, State>
  history: EditHistory
  busy: boolean
}>()
defineEmits<{ go: [part: string]; publish: [] }>()
const session = useSession()
const now = useNowIso()
const { canUndo, canRedo, undo, redo } = props.history

const saved = computed(() => props.draft.state.value)
const savedWords = computed(() => {
  const { problem, unsaved } = props.draft
  if (problem.value && problem.value.status !== 409) return 'not saved yet'
  if (unsaved.value) return 'saving…'
  return `saved ${whenOf(saved.value.savedAt, session.me?.business.zone ?? 'UTC', now.value)}`
})
const errors = computed(() => saved.value.findings.filter(({ level }) => level === 'error').length)
</script>

<template>
  <header class="bar">
    <h1>{{ name }}</h1>
    <ThingStateMark :state="state" />
    <slot />
    <v-btn
      :icon="mdiUndo"
      size="small"
      variant="text"
      aria-label="Undo"
      :disabled="!canUndo"
      @click="undo()"
    />
    <v-btn
      :icon="mdiRedo"
      size="small"
      variant="text"
      aria-label="Redo"
      :disabled="!canRedo"
      @click="redo()"
    />
    <span class="soft" role="status">{{ savedWords }}</span>
    <span v-if="saved.others.length" class="others">
      {{ saved.others.join(', ') }} {{ saved.others.length === 1 ? 'has' : 'have' }} this open too
    </span>
    <span class="grow" />
    <ChecksMenu
      :findings="saved.findings"
      :changes="saved.changes"
      @go="(part: string) => $emit('go', part)"
    />
    <slot name="action" />
    <v-btn color="secondary" size="small" :loading="busy" :disabled="errors > 0" @click="$emit('publish')"
      >Publish</v-btn
    >
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 10px;
  flex-wrap: wrap;
  margin-bottom: 10px;
}

.grow {
  flex: 1;
}

.others {
  color: var(--signal);
  font-weight: 600;
}
</style>
