<script setup lang="ts">
import { computed } from 'vue'
import type { BlockDocument } from '../../core/blocks/document.ts'
import { nowhere, type Target } from '../../core/blocks/target.ts'
import ActionsInput from '../blocks/inspector/ActionsInput.vue'
import PictureInput from '../blocks/inspector/PictureInput.vue'
import TargetInput from '../blocks/inspector/TargetInput.vue'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import { quizActionKinds } from './quizActionKinds.ts'
import MoveButtons from '../frame/MoveButtons.vue'
import type { QuizEditing } from './quizEditing.ts'

/** The result that is chosen: who gets it, what they see, what it does, how it is passed on. */
const props = defineProps<{ editing: QuizEditing }>()
const emit = defineEmits<{ write: [] }>()
const { content, result } = props.editing

const emptyDocument: BlockDocument = { sections: [] }
const place = computed(() => content.value.results.findIndex(({ id }) => id === result.value?.id))
function set(given: object, of?: string): void {
  const now = result.value
  if (now) props.editing.setResult({ ...now, ...given }, of && `${now.id} ${of}`)
}
function move(way: -1 | 1): void {
  if (result.value) props.editing.shift(result.value.id, way)
}
const by = computed({
  get: () => result.value?.shows.by ?? 'page',
  set: (way: 'page' | 'target') =>
    set({
      shows: way === 'page' ? { by: 'page', document: emptyDocument } : { by: 'target', target: nowhere },
    }),
})
const share = (given: object, of: string): void =>
  set({ sharing: { ...result.value?.sharing, ...given } }, `sharing ${of}`)
</script>

<template>
  <div v-if="result" class="parts">
    <div class="head">
      <h2>Result {{ place + 1 }}</h2>
      <v-spacer />
      <MoveButtons :first="place === 0" :last="place === content.results.length - 1" @move="move" />
    </div>
    <v-text-field
      :model-value="result.name"
      label="Name"
      @update:model-value="(name: string) => set({ name }, 'name')"
    />
    <div v-if="content.by !== 'type'" class="two">
      <v-number-input
        :model-value="result.from"
        label="From points"
        :precision="null"
        clearable
        control-variant="hidden"
        placeholder="any"
        @update:model-value="(from: number | null) => set({ from })"
      />
      <v-number-input
        :model-value="result.to"
        label="To points"
        :precision="null"
        clearable
        control-variant="hidden"
        placeholder="any"
        @update:model-value="(to: number | null) => set({ to })"
      />
    </div>
    <h3>Who gets it sees</h3>
    <ChoiceToggle
      v-model="by"
      label="What they see"
      :choices="{ page: 'A page here', target: 'Something else' }"
    />
    <v-btn v-if="result.shows.by === 'page'" size="small" variant="outlined" @click="emit('write')"
      >Write the page</v-btn
    >
    <TargetInput
      v-else
      :model-value="result.shows.target"
      label="Leads to"
      @update:model-value="(target: Target) => set({ shows: { by: 'target', target } })"
    />
    <h3>What it does</h3>
    <ActionsInput
      :model-value="result.actions"
      :kinds="quizActionKinds"
      @update:model-value="(actions) => set({ actions })"
    />
    <h3>When somebody shows it to others</h3>
    <v-text-field
      :model-value="result.sharing.title"
      label="Title"
      :placeholder="`${content.title}: ${result.name}`"
      @update:model-value="(title: string) => share({ title }, 'title')"
    />
    <v-textarea
      :model-value="result.sharing.words"
      label="Text"
      rows="2"
      @update:model-value="(words: string) => share({ words }, 'words')"
    />
    <PictureInput
      :model-value="result.sharing.picture"
      label="Picture"
      @update:model-value="(picture: number | null) => share({ picture }, 'picture')"
    />
    <v-btn size="small" variant="text" @click="editing.remove(result.id)">Remove this result</v-btn>
  </div>
</template>

<style scoped>
.parts {
  display: grid;
  gap: 10px;
}

.head,
.two {
  display: flex;
  align-items: center;
  gap: 8px;
}

h2 {
  padding: 0;
  border: 0;
}

h3 {
  font-size: 14px;
}
</style>
