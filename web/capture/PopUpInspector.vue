<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import type { PopUpView } from '../../contract/popUps.ts'
import { describeRules, popUpContent, type PopUpContent } from '../../core/capture/popUp.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import type { Draft } from '../blocks/draft.ts'
import FieldInput from '../blocks/inspector/FieldInput.vue'
import type { Field } from '../blocks/inspector/fields.ts'
import VersionsInput from '../blocks/VersionsInput.vue'
import ProblemNote from '../frame/ProblemNote.vue'

/** The pop-up itself: its shape, when, where and to whom it opens, versions. */
const props = defineProps<{ view: PopUpView; draft: Draft<PopUpContent> }>()
const emit = defineEmits<{ reload: [] }>()
const router = useRouter()
const { refused, attempt } = useAttempts()
const content = computed(() => props.draft.content.value)
const set = (given: Partial<PopUpContent>): void => props.draft.set({ ...content.value, ...given })
const setAll = (next: object): void => props.draft.set(next as PopUpContent)
const setOpens = (given: Partial<PopUpContent['opens']>): void =>
  set({ opens: { ...content.value.opens, ...given } })

const name = ref(props.view.name)
async function rename(): Promise<void> {
  await props.draft.save()
  const body = { name: name.value }
  if (await attempt(() => call(api.popUps.rename, { params: { id: props.view.id }, body }))) emit('reload')
}

const looks: readonly Field[] = [
  { path: 'title', label: 'What it is about', as: 'line', hint: 'Read out when it opens.' },
  {
    path: 'shape',
    label: 'Shape',
    as: 'choice',
    items: [
      { title: 'In the centre', value: 'centre' },
      { title: 'In a corner', value: 'corner' },
      { title: 'A bar at an edge', value: 'bar' },
    ],
  },
]
const edge: Field = {
  path: 'edge',
  label: 'Edge',
  as: 'choice',
  items: [
    { title: 'Bottom', value: 'bottom' },
    { title: 'Top', value: 'top' },
  ],
}
const notTo: Field = {
  path: 'notTo',
  label: 'Not to',
  as: 'choice',
  items: [
    { title: 'People who are subscribed', value: 'subscribed' },
    { title: 'Anybody we know', value: 'known' },
    { title: 'Nobody: everybody sees it', value: 'nobody' },
  ],
}
const devices = [
  { title: 'Phones', value: 'phone' },
  { title: 'Tablets', value: 'tablet' },
  { title: 'Computers', value: 'computer' },
]

/** Patterns that cannot be read are told, and what could be read before stays. */
const faults = ref<Partial<Record<'pages' | 'notPages' | 'sources', string>>>({})
function setList(key: 'pages' | 'notPages' | 'sources', typed: readonly string[]): void {
  const read = popUpContent.shape[key].safeParse([...typed])
  faults.value = { ...faults.value, [key]: read.success ? undefined : read.error.issues[0]?.message }
  if (read.success) set({ [key]: read.data })
}

async function goBack(version: number): Promise<void> {
  await props.draft.save()
  if (await attempt(() => call(api.popUps.goBack, { params: { id: props.view.id }, body: { version } })))
    emit('reload')
}
async function archive(archived: boolean): Promise<void> {
  if (await attempt(() => call(api.popUps.archive, { params: { id: props.view.id }, body: { archived } })))
    await router.push('/library/pop-ups')
}
</script>

<template>
  <div class="popup">
    <h2>Pop-up</h2>
    <p class="rules soft">{{ describeRules(content).join(', ') }}</p>
    <v-text-field v-model="name" label="Name in the Library" />
    <v-btn v-if="name !== view.name" size="small" @click="rename">Save name</v-btn>
    <FieldInput
      v-for="field in content.shape === 'bar' ? [...looks, edge] : looks"
      :key="field.path"
      :field="field"
      :of="content"
      @update:of="setAll"
    />

    <h3>Opens by itself</h3>
    <v-number-input
      :model-value="content.opens.afterSeconds"
      label="After so many seconds"
      :min="0"
      :max="3600"
      clearable
      @update:model-value="(n: number | null) => setOpens({ afterSeconds: n })"
    />
    <v-number-input
      :model-value="content.opens.afterScrolling"
      label="After so much of the page (%)"
      :min="1"
      :max="100"
      clearable
      @update:model-value="(n: number | null) => setOpens({ afterScrolling: n })"
    />
    <v-switch
      :model-value="content.opens.whenLeaving"
      label="When the pointer leaves the page"
      @update:model-value="(on) => setOpens({ whenLeaving: on === true })"
    />
    <v-number-input
      :model-value="content.opens.fromVisit"
      label="From this visit on"
      :min="1"
      :max="100"
      @update:model-value="(n: number | null) => n && setOpens({ fromVisit: n })"
    />
    <v-number-input
      :model-value="content.againAfterDays"
      label="Not again for so many days after closing"
      :min="0"
      :max="365"
      @update:model-value="(n: number | null) => n !== null && set({ againAfterDays: n })"
    />
    <p class="soft">A button can open it at any time: choose it where the button leads.</p>

    <h3>Where and to whom</h3>
    <v-combobox
      :model-value="content.pages"
      label="On pages"
      multiple
      chips
      closable-chips
      placeholder="/p/*"
      hint="None means all pages. * stands for anything."
      persistent-hint
      :error-messages="faults.pages"
      @update:model-value="(typed: string[]) => setList('pages', typed)"
    />
    <v-combobox
      :model-value="content.notPages"
      label="Not on pages"
      multiple
      chips
      closable-chips
      :error-messages="faults.notPages"
      @update:model-value="(typed: string[]) => setList('notPages', typed)"
    />
    <v-switch
      :model-value="content.elsewhere"
      label="On other sites that have our line"
      @update:model-value="(on) => set({ elsewhere: on === true })"
    />
    <v-select
      :model-value="content.devices"
      label="On devices"
      :items="devices"
      multiple
      chips
      hint="None means all."
      persistent-hint
      @update:model-value="(chosen: PopUpContent['devices']) => set({ devices: chosen })"
    />
    <v-combobox
      :model-value="content.sources"
      label="To visitors from these sources"
      multiple
      chips
      closable-chips
      hint="Values of utm_source. None means all."
      persistent-hint
      :error-messages="faults.sources"
      @update:model-value="(typed: string[]) => setList('sources', typed)"
    />
    <FieldInput :field="notTo" :of="content" @update:of="setAll" />

    <h3>Versions</h3>
    <VersionsInput :versions="view.versions" @go-back="goBack" />
    <p v-if="view.usedIn.length" class="soft">Opened by buttons in {{ view.usedIn.join(', ') }}.</p>
    <ProblemNote :problem="refused" />
    <v-btn size="small" variant="text" color="error" @click="archive(view.state !== 'archived')">
      {{ view.state === 'archived' ? 'Take out of the archive' : 'Archive pop-up' }}
    </v-btn>
  </div>
</template>

<style scoped>
.popup {
  display: grid;
  gap: 12px;
}

.rules {
  margin: 0;
}

.rules::first-letter {
  text-transform: uppercase;
}

h3 {
  margin: 8px 0 0;
  border-top: 1px solid var(--rule);
  padding-top: 12px;
}

.popup > .v-btn {
  justify-self: start;
}
</style>
