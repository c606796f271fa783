<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../../contract/api.ts'
import { call } from '../../api.ts'
import { useLoaded } from '../../loading.ts'

/** Tags by their names: chosen from those there are, or typed; a new name makes a new tag. */
withDefaults(defineProps<{ label?: string; name?: string; errorMessages?: string[]; disabled?: boolean }>(), {
  label: 'Tags',
  name: 'tags',
  errorMessages: () => [],
})
const names = defineModel<string[]>({ required: true })

const { data } = useLoaded((signal) => call(api.tags.list, { signal }), ['audience'])
const known = computed(() => (data.value ?? []).map(({ name }) => name))
</script>

<template>
  <v-combobox
    v-model="names"
    :name="name"
    :label="label"
    :items="known"
    :error-messages="errorMessages"
    :disabled="disabled"
    :delimiters="[',', ';']"
    multiple
    chips
    closable-chips
    hide-selected
  />
</template>
