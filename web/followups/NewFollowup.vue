<script setup lang="ts">
import { useRouter } from 'vue-router'
import { z } from 'zod'
import * as api from '../../contract/api.ts'
import { libraryName } from '../../contract/drafts.ts'
import { followupStarters } from '../../core/followups/starters.ts'
import { call } from '../api.ts'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'

/** A new follow-up: a starting point and a name. */
const open = defineModel<boolean>({ required: true })
const router = useRouter()
const form = useForm(z.object({ name: libraryName, starter: z.string() }), {
  name: '',
  starter: followupStarters[0]?.id ?? '',
})

async function create(): Promise<void> {
  let made = 0
  const through = await form.submit(async ({ name, starter }) => {
    const body = starter === '' ? { name } : { name, starter }
    made = (await call(api.followups.create, { body })).id
  })
  if (through) await router.push(`/follow-ups/${made}`)
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="New follow-up"
    submit-label="Make follow-up"
    :problem="form.problem"
    :busy="form.busy"
    :width="620"
    @submit="create"
  >
    <v-text-field v-bind="form.field('name')" label="Name" autofocus />
    <v-radio-group v-bind="form.field('starter')" label="Begin from" class="starters">
      <v-radio v-for="starter in followupStarters" :key="starter.id" :value="starter.id">
        <template #label>
          <span>
            <strong>{{ starter.name }}</strong><br />{{ starter.words }}
          </span>
        </template>
      </v-radio>
      <v-radio value="">
        <template #label>
          <span><strong>Nothing</strong><br />An empty timetable.</span>
        </template>
      </v-radio>
    </v-radio-group>
    <p class="soft">Its emails are made with it, as drafts with a word of guidance each.</p>
  </QuickDialog>
</template>

<style scoped>
.starters {
  max-height: 44vh;
  overflow: auto;
}
</style>
