<script setup lang="ts">
import * as api from '../../../contract/api.ts'
import type { ImportChoices, importChoices } from '../../../contract/audience/imports.ts'
import { call } from '../../api.ts'
import type { Form } from '../../form.ts'
import { useLoaded } from '../../loading.ts'
import TagsInput from '../describing/TagsInput.vue'
import { existingItems, permissionWords } from './optionWords.ts'

/** What an import is to do besides filling in columns. */
const props = defineProps<{ form: Form<typeof importChoices> }>()
const { data: topics } = useLoaded((signal) => call(api.topics.list, { signal }), [])
const choose = (permission: ImportChoices['permission'] | null): void => {
  if (permission) props.form.values.permission = permission
}
</script>

<template>
  <v-select v-bind="form.field('existing')" label="People already on the list" :items="existingItems" />
  <TagsInput v-bind="form.field('tags')" label="Add tags" />
  <v-select
    v-if="topics?.length && form.values.permission === 'agreed'"
    v-bind="form.field('topics')"
    label="Topics they agreed to"
    :items="topics"
    item-title="name"
    item-value="id"
    multiple
    chips
    closable-chips
  />
  <v-radio-group
    :model-value="form.values.permission"
    label="Permission to send marketing email"
    @update:model-value="choose"
  >
    <v-radio v-for="(title, value) in permissionWords" :key="value" :value="value" :label="title" />
  </v-radio-group>
  <v-textarea
    v-if="form.values.permission !== 'notAsked'"
    v-bind="form.field('statement')"
    label="Where and how"
    placeholder="Kept with each person"
  />
  <v-checkbox
    v-if="form.values.permission !== 'refused'"
    v-bind="form.field('startFollowups')"
    label="Start follow-ups that these tags trigger"
  />
</template>
