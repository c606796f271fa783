<script setup lang="ts">
import { mdiOpenInNew } from '@mdi/js'
import { ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { FormTrial } from '../../contract/forms.ts'
import type { ProblemDetails } from '../../contract/problems.ts'
import { call, problemOf } from '../api.ts'
import ProblemNote from '../frame/ProblemNote.vue'

/** Uses a form as somebody in rehearsal. */
const props = defineProps<{ id: number; published: boolean }>()
const people = ref<FormTrial[] | null>(null)
const problem = ref<ProblemDetails | null>(null)

async function load(open: boolean): Promise<void> {
  if (!open) return
  problem.value = null
  try {
    people.value = await call(api.forms.trials, { params: { id: props.id } })
  } catch (error) {
    problem.value = problemOf(error)
  }
}
</script>

<template>
  <v-menu @update:model-value="load">
    <template #activator="{ props: menu }">
      <v-btn v-bind="menu" variant="text" size="small" :disabled="!published">Try it as…</v-btn>
    </template>
    <v-card width="300">
      <v-card-text class="soft">
        The published form, as somebody in rehearsal comes to it. They are counted nowhere.
      </v-card-text>
      <ProblemNote v-if="problem" :problem="problem" />
      <v-list v-else-if="people?.length" role="menu">
        <v-list-item
          v-for="person in people"
          :key="person.contact"
          role="menuitem"
          :href="person.url"
          target="_blank"
          :append-icon="mdiOpenInNew"
          :title="`as ${person.name}`"
        />
      </v-list>
      <v-card-text v-else-if="people" class="soft">
        Nobody yet: open a person and mark them as rehearsal.
      </v-card-text>
    </v-card>
  </v-menu>
</template>
