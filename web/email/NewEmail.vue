<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { z } from 'zod'
import * as api from '../../contract/api.ts'
import { libraryName } from '../../contract/drafts.ts'
import { emailFrom, emailPoints } from '../../core/email/startingPoints.ts'
import { call, upload } from '../api.ts'
import { newPartId } from '../blocks/editing.ts'
import { useAttempts } from '../attempt.ts'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'

/** A new email: a starting point and a name. */
const open = defineModel<boolean>({ required: true })
const router = useRouter()
const form = useForm(z.object({ name: libraryName, point: z.string() }), {
  name: '',
  point: emailPoints[0]?.id ?? '',
})

/** A page of HTML or a message that somebody brings along, in the place of a starting point. */
const file = ref<File | null>(null)
const leftOut = ref<string[]>([])
const imported = useAttempts()
const made = ref(0)
async function bring(): Promise<void> {
  const chosen = file.value
  if (!chosen) return
  const through = await imported.attempt(async () => {
    const answer = await upload(api.emails.import, { name: chosen.name }, chosen, () => undefined)
    made.value = answer.id
    leftOut.value = answer.leftOut
  })
  if (through && leftOut.value.length === 0) await router.push(`/library/emails/${made.value}`)
}

async function create(): Promise<void> {
  if (made.value > 0) {
    await router.push(`/library/emails/${made.value}`)
    return
  }
  if (file.value) {
    await bring()
    return
  }
  let id = 0
  const through = await form.submit(async ({ name, point }) => {
    const from = emailPoints.find(({ id }) => id === point) ?? emailPoints[0]
    if (!from) return
    id = (await call(api.emails.create, { body: { name, content: emailFrom(from, newPartId) } })).id
  })
  if (through) await router.push(`/library/emails/${id}`)
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="New email"
    :submit-label="made ? 'Open it' : 'Make email'"
    :problem="form.problem ?? imported.refused.value"
    :busy="form.busy || imported.busy.value"
    :width="620"
    @submit="create"
  >
    <p v-if="leftOut.length" role="status">
      It was imported. Left out, since an email shows pictures of the Library only: {{ leftOut.join(', ') }}.
    </p>
    <v-text-field v-if="!file" v-bind="form.field('name')" label="Name" autofocus />
    <v-file-input
      v-model="file"
      label="From a file: HTML or .eml (optional)"
      accept=".html,.htm,.eml,text/html,message/rfc822"
      clearable
    />
    <v-radio-group v-if="!file" v-bind="form.field('point')" label="Begin from" class="points">
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
