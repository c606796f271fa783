<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import { fileEdit, type FileView } from '../../contract/pages.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import VersionsInput from '../blocks/VersionsInput.vue'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'

/** What a file is called, how long and how often its links are good, and its earlier versions. */
const props = defineProps<{ file: FileView }>()
const open = defineModel<boolean>({ required: true })
const { file } = props
const form = useForm(fileEdit, {
  name: file.name,
  linkDays: file.linkDays,
  mostDownloads: file.mostDownloads,
})
const { refused, attempt } = useAttempts()
const versions = computed(() => file.versions.map((each) => ({ ...each, published: each.current })))

async function save(): Promise<void> {
  if (await form.submit((body) => call(api.files.editFile, { params: { id: file.id }, body })))
    open.value = false
}
async function goBack(version: number): Promise<void> {
  if (await attempt(() => call(api.files.useVersion, { params: { id: file.id }, body: { version } })))
    open.value = false
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Edit file"
    submit-label="Save file"
    :problem="form.problem ?? refused"
    :busy="form.busy"
    @submit="save"
  >
    <v-text-field v-bind="form.field('name')" label="Name" autofocus />
    <v-number-input v-bind="form.field('linkDays')" label="A link is good for so many days" />
    <v-number-input
      v-bind="form.field('mostDownloads')"
      label="Downloads with one link"
      hint="Leave it empty for any number."
      persistent-hint
      clearable
    />
    <VersionsInput v-if="file.versions.length > 1" :versions="versions" @go-back="goBack" />
  </QuickDialog>
</template>
