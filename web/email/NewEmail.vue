<script setup lang="ts">
import { useRouter } from 'vue-router'
import { z } from 'zod'
import { api } from '../../contract/api.ts'
import { libraryName } from '../../contract/drafts.ts'
import { emailFrom, emailPoints } from '../../core/email/startingPoints.ts'
import { call } from '../api.ts'
import { newPartId } from '../blocks/editing.ts'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'

/** A new email: a starting point and a name. */
const open = defineModel<boolean>({ required: true })
const router = useRouter()
const form = useForm(z.object({ name: libraryName, point: z.string() }), {
  name: '',
  point: emailPoints[0]?.id ?? '',
})

async function create(): Promise<void> {
  let made = 0
  const through = await form.submit(async ({ name, point }) => {
    const from = emailPoints.find(({ id }) => id === point) ?? emailPoints[0]
    if (!from) return
    made = (await call(api.emails.create, { body: { name, content: emailFrom(from, newPartId) } })).id
  })
  if (through) await router.push(`/library/emails/${made}`)
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="New email"
    submit-label="Make email"
    :problem="form.problem"
    :busy="form.busy"
    :width="620"
    @submit="create"
  >
    <v-text-field v-bind="form.field('name')" label="Name" autofocus />
    <v-radio-group v-bind="form.field('point')" label="Begin from" class="points">
      <v-radio v-for="point in emailPoints" :key="point.id" :value="point.id">
        <template #label>
          <span>
            <strong>{{ point.name }}</strong><br />{{ point.words }}
          </span>
        </template>
      </v-radio>
    </v-radio-group>
  </QuickDialog>
</template>

<style scoped>
.points {
  max-height: 48vh;
  overflow: auto;
}
</style>
