<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import type { SearchHit } from '../../contract/search.ts'
import { call } from '../api.ts'
import { useLoaded } from '../loading.ts'
import { places } from '../places.ts'

const open = defineModel<boolean>({ required: true })
const router = useRouter()

const typed = ref('')
const settled = refDebounced(typed, 150)
const { data } = useLoaded(
  (signal) => call(api.today.search, { query: { q: settled.value }, signal }),
  [],
  () => settled.value,
)
watch(open, () => (typed.value = ''))

interface Destination {
  title: string
  detail: string
  to: string
}

const destinations = computed((): Destination[] => {
  const wanted = typed.value.trim().toLowerCase()
  const here = places(router).filter(({ title }) => title.toLowerCase().includes(wanted))
  return [...here, ...((data.value ?? []) satisfies SearchHit[])]
})

async function go(destination: Destination | null): Promise<void> {
  if (!destination) return
  open.value = false
  await router.push(destination.to)
}
</script>

<template>
  <v-dialog v-model="open" width="560" aria-label="Go to">
    <v-card class="go">
      <v-autocomplete
        v-model:search="typed"
        :model-value="null"
        :items="destinations"
        item-title="title"
        item-value="to"
        return-object
        no-filter
        auto-select-first
        autofocus
        hide-details
        label="Go to a screen, a person or a follow-up"
        menu-icon=""
        @update:model-value="go"
      >
        <template #item="{ item, props: itemProps }">
          <v-list-item v-bind="itemProps" :subtitle="item.detail" />
        </template>
        <template #no-data>
          <v-list-item :title="typed ? `No results for “${typed}”` : 'Type a name'" />
        </template>
      </v-autocomplete>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.go {
  padding: 16px;
}
</style>
