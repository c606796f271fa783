<script setup lang="ts">
import {
  publicSettings,
  type PublicView,
  type settingsRoute,
  type versionRoutes,
} from '../../contract/drafts.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import { useForm } from '../form.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import VersionsInput from './VersionsInput.vue'

/** What a thing with an address of its own is called and where it is found; where it is used, and its versions. */
const props = defineProps<{
  view: PublicView
  routes: { settings: ReturnType<typeof settingsRoute>; goBack: ReturnType<typeof versionRoutes>['goBack'] }
  /** What stands before its path, such as `/q/`. */
  prefix: string
  save: () => Promise<boolean>
}>()
const emit = defineEmits<{ reload: [] }>()
const { refused, attempt } = useAttempts()
const params = { id: props.view.id }

const { name, path, labels } = props.view
const form = useForm(publicSettings, { name, path, labels: [...labels] })
async function keep(): Promise<void> {
  await props.save()
  if (await form.submit((body) => call(props.routes.settings, { params, body }))) emit('reload')
}
async function goBack(version: number): Promise<void> {
  await props.save()
  if (await attempt(() => call(props.routes.goBack, { params, body: { version } }))) emit('reload')
}
</script>

<template>
  <h2>Name and address</h2>
  <ProblemNote :problem="form.problem ?? refused" />
  <v-text-field v-bind="form.field('name')" label="Name" />
  <v-text-field
    v-bind="form.field('path')"
    label="Path"
    :prefix="prefix"
    hint="Links with the old path lead on"
    persistent-hint
  />
  <v-combobox v-bind="form.field('labels')" label="Labels" multiple chips closable-chips />
  <v-btn size="small" variant="outlined" :loading="form.busy" @click="keep">Save</v-btn>
  <p v-if="view.usedIn.length" class="soft">Used in {{ view.usedIn.join(', ') }}</p>
  <VersionsInput :versions="view.versions" @go-back="goBack" />
</template>
