<script setup lang="ts">
import { computed, watch } from 'vue'
import { z } from 'zod'
import { api } from '../../contract/api.ts'
import type { SelectionInput } from '../../contract/audience/people.ts'
import { call } from '../api.ts'
import { choice, useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { peopleOf } from '../wording.ts'
import LeftOutList from './LeftOutList.vue'

/** An email to everybody who is meant: which one, what about, and who gets it before anything is sent. */
const props = defineProps<{ who: SelectionInput }>()
const open = defineModel<boolean>({ required: true })

const { data: all } = useLoaded((signal) => call(api.emails.list, { signal }), ['email'])
const emails = computed(() => all.value?.filter(({ state }) => state === 'live') ?? null)
const { data: topics } = useLoaded((signal) => call(api.topics.list, { signal }), ['audience'])
const topicItems = computed(() => [
  { value: null, title: 'No topic: everybody who is subscribed' },
  ...(topics.value ?? [])
    .filter(({ archived }) => !archived)
    .map(({ id, name }) => ({ value: id, title: `${name}: only those who agreed to it` })),
])

const form = useForm(z.object({ email: choice('Choose an email'), topic: z.number().nullable() }), {
  email: null,
  topic: null,
})
const chosen = computed(() => emails.value?.find(({ id }) => id === form.values.email))
// An email that is about something goes to who agreed to that, unless somebody says otherwise.
watch(chosen, (email) => (form.values.topic = email?.topic ?? null))
const { data: forecast, problem } = useLoaded(
  async (signal) => {
    const { email, topic } = form.values
    if (email === null) return null
    return call(api.broadcasts.forecast, { body: { who: props.who, email, topic }, signal })
  },
  ['audience', 'email'],
  () => ({ ...form.values }),
)

async function send(): Promise<void> {
  const sent = await form.submit(({ email, topic }) =>
    call(api.broadcasts.create, { body: { who: props.who, email, topic } }),
  )
  if (sent) open.value = false
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Send an email"
    :submit-label="forecast ? `Send to ${peopleOf(forecast.gets)}` : 'Send'"
    :problem="form.problem ?? problem"
    :busy="form.busy"
    @submit="send"
  >
    <v-autocomplete
      v-bind="form.field('email')"
      label="Email"
      :items="emails ?? []"
      item-title="name"
      item-value="id"
      :hint="chosen ? `Subject: ${chosen.subject}` : ''"
      persistent-hint
    />
    <v-select v-bind="form.field('topic')" label="Topic" :items="topicItems" />
    <div v-if="forecast" role="status">
      <p>
        <strong>{{ peopleOf(forecast.gets) }}</strong> would get it now{{
          forecast.leftOut.length ? '. Left out:' : '.'
        }}
      </p>
      <LeftOutList :left-out="forecast.leftOut" />
    </div>
  </QuickDialog>
</template>
