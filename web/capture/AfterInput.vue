<script setup lang="ts">
import type { AfterSending } from '../../core/capture/form.ts'
import FieldInput from '../blocks/inspector/FieldInput.vue'
import type { Field } from '../blocks/inspector/fields.ts'

/** What visitors see once the form was sent. */
const after = defineModel<AfterSending>({ required: true })

type Then = AfterSending['then']
const items: { title: string; value: Then }[] = [
  { title: 'A message in its place', value: 'message' },
  { title: 'Another page, a file or an address', value: 'go' },
  { title: 'An offer in its place', value: 'offer' },
]
const said = { title: 'Thank you', words: 'It is on its way to your mailbox.' }
const fresh: { [K in Then]: Extract<AfterSending, { then: K }> } = {
  message: { then: 'message', ...said },
  go: { then: 'go', target: { to: 'nowhere' } },
  offer: {
    then: 'offer',
    ...said,
    picture: null,
    label: 'Yes, show me',
    target: { to: 'nowhere' },
    decline: 'No, thank you',
  },
}
const words: readonly Field[] = [
  { path: 'title', label: 'Heading', as: 'line' },
  { path: 'words', label: 'What is said', as: 'sentences' },
]
const target: Field = { path: 'target', label: 'Leads to', as: 'target' }
const inputs: Record<Then, readonly Field[]> = {
  message: words,
  go: [target],
  offer: [
    ...words,
    { path: 'picture', label: 'Picture', as: 'picture' },
    { path: 'label', label: 'Button that takes it', as: 'line' },
    target,
    { path: 'decline', label: 'Link that declines', as: 'line' },
  ],
}
</script>

<template>
  <div class="after">
    <v-select
      label="After sending"
      :items="items"
      :model-value="after.then"
      @update:model-value="(then: Then) => (after = fresh[then])"
    />
    <FieldInput
      v-for="input in inputs[after.then]"
      :key="`${after.then} ${input.path}`"
      :field="input"
      :of="after"
      @update:of="(next: object) => (after = next as AfterSending)"
    />
  </div>
</template>

<style scoped>
.after {
  display: grid;
  gap: 12px;
}
</style>
