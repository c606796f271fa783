<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import type { FormView } from '../../contract/forms.ts'
import type { AfterSending, Confirming, FormAction, FormContent } from '../../core/capture/form.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ActionsInput from '../blocks/inspector/ActionsInput.vue'
import FieldInput from '../blocks/inspector/FieldInput.vue'
import type { Field } from '../blocks/inspector/fields.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import VersionsInput from '../blocks/VersionsInput.vue'
import AfterInput from './AfterInput.vue'
import { formActionKinds } from './formFields.ts'
import ConfirmInput from './ConfirmInput.vue'
import ElsewhereLines from './ElsewhereLines.vue'
import type { FormEditing } from './formEditing.ts'

/** The form itself: its words, what comes after, what it does, double opt-in, versions. */
const props = defineProps<{
  view: FormView
  editing: FormEditing
  publicUrl: string
  save: () => Promise<boolean>
}>()
const emit = defineEmits<{ reload: [] }>()
const router = useRouter()
const { refused, attempt } = useAttempts()
const { content, set } = props.editing
const setAll = (next: object): void => set(next as FormContent)

const name = ref(props.view.name)
async function rename(): Promise<void> {
  await props.save()
  const body = { name: name.value }
  if (await attempt(() => call(api.forms.rename, { params: { id: props.view.id }, body }))) emit('reload')
}

const words: readonly Field[] = [
  { path: 'title', label: 'Heading', as: 'line' },
  { path: 'button', label: 'Button', as: 'line' },
  { path: 'privacy', label: 'Line under the button', as: 'line' },
]
const next: Field = { path: 'next', label: 'Button to the next step', as: 'line' }
const shownWords = computed(() => (content.value.steps.length > 1 ? [...words, next] : words))

const known: Field = {
  path: 'known',
  label: 'Who comes by a link of your email sees',
  as: 'choice',
  items: [
    { title: 'An empty form', value: 'ask' },
    { title: 'The form with their details', value: 'fill' },
    { title: 'The button alone', value: 'skip' },
  ],
}
const addresses: readonly Field[] = [
  { path: 'slips', label: 'Ask about typing slips in the address', as: 'yes' },
  { path: 'domains', label: 'Mail domains of your readers', as: 'lines', one: 'domain' },
  {
    path: 'throwaway',
    label: 'Throw-away addresses',
    as: 'choice',
    items: [
      { title: 'Take them', value: 'take' },
      { title: 'Ask once more', value: 'warn' },
      { title: 'Refuse them', value: 'refuse' },
    ],
  },
]

async function goBack(version: number): Promise<void> {
  await props.save()
  if (await attempt(() => call(api.forms.goBack, { params: { id: props.view.id }, body: { version } })))
    emit('reload')
}
async function archive(archived: boolean): Promise<void> {
  if (await attempt(() => call(api.forms.archive, { params: { id: props.view.id }, body: { archived } })))
    await router.push('/library/forms')
}
</script>

<template>
  <div class="form">
    <h2>Form</h2>
    <v-text-field v-model="name" label="Name in the Library" />
    <v-btn v-if="name !== view.name" size="small" @click="rename">Save name</v-btn>
    <FieldInput
      v-for="field in shownWords"
      :key="field.path"
      :field="field"
      :of="content"
      @update:of="setAll"
    />

    <h3>After sending</h3>
    <AfterInput :model-value="content.after" @update:model-value="(after: AfterSending) => set({ after })" />

    <h3>What it does</h3>
    <ActionsInput
      :kinds="formActionKinds"
      :model-value="content.actions"
      @update:model-value="(actions: readonly FormAction[]) => set({ actions: [...actions] })"
    />

    <h3>Double opt-in</h3>
    <ConfirmInput
      :model-value="content.confirm"
      @update:model-value="(confirm: Confirming) => set({ confirm })"
    />

    <h3>Known people and addresses</h3>
    <FieldInput :field="known" :of="content" @update:of="setAll" />
    <FieldInput
      v-for="field in addresses"
      :key="field.path"
      :field="field"
      :of="content"
      @update:of="setAll"
    />

    <h3>On other sites</h3>
    <ElsewhereLines
      v-if="view.state === 'live'"
      :form-key="view.key"
      :public-url="publicUrl"
      :title="content.title || view.name"
    />
    <p v-else class="soft">Publish the form first.</p>

    <h3>Versions</h3>
    <VersionsInput :versions="view.versions" @go-back="goBack" />
    <p v-if="view.usedIn.length" class="soft">Used in {{ view.usedIn.join(', ') }}.</p>
    <p v-else class="soft">It stands nowhere yet: add it to a page.</p>
    <ProblemNote :problem="refused" />
    <v-btn size="small" variant="text" color="error" @click="archive(view.state !== 'archived')">
      {{ view.state === 'archived' ? 'Take out of the archive' : 'Archive form' }}
    </v-btn>
  </div>
</template>

<style scoped>
.form {
  display: grid;
  gap: 12px;
}

h3 {
  margin: 8px 0 0;
  border-top: 1px solid var(--rule);
  padding-top: 12px;
}

.form > .v-btn {
  justify-self: start;
}
</style>
