<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { z } from 'zod'
import * as api from '../../../contract/api.ts'
import type { SelectionInput } from '../../../contract/audience/people.ts'
import type { BroadcastRequestInput, Moment, SplitTest } from '../../../contract/broadcasts.ts'
import { call } from '../../api.ts'
import { choice, useForm } from '../../form.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import { useLoaded } from '../../loading.ts'
import { useNowIso } from '../../now.ts'
import { peopleOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'
import SplitTestInput from './SplitTestInput.vue'
import WhenInput from './WhenInput.vue'
import WhoGetsIt from './WhoGetsIt.vue'
import WhoInput from './WhoInput.vue'

/** An email to many: which one, to whom, when, and who gets it before anything is sent. */
const route = useRoute()
const router = useRouter()
const session = useSession()
const now = useNowIso()

const { data: all } = useLoaded((signal) => call(api.emails.list, { signal }), ['email'])
const emails = computed(() => (all.value ?? []).filter(({ state }) => state === 'live'))
const { data: topics } = useLoaded((signal) => call(api.topics.list, { signal }), ['audience'])
const topicItems = computed(() => [
  { value: null, title: 'No topic: everybody who is subscribed' },
  ...(topics.value ?? [])
    .filter(({ archived }) => !archived)
    .map(({ id, name }) => ({ value: id, title: `${name}: only those who agreed to it` })),
])

const asked = Number(route.query.email)
const form = useForm(z.object({ email: choice('Choose an email'), topic: z.number().nullable() }), {
  email: Number.isInteger(asked) && asked > 0 ? asked : null,
  topic: null,
})
const chosen = computed(() => emails.value.find(({ id }) => id === form.values.email))
// An email that is about something goes to who agreed to that, unless somebody says otherwise.
// By its id alone: the list is loaded anew now and then, which must not undo a choice.
watch(
  () => chosen.value?.id,
  () => (form.values.topic = chosen.value?.topic ?? null),
)

const who = ref<SelectionInput>({})
const moment = ref<Moment>({ when: 'now' })
const test = ref<SplitTest | null>(null)
const request = computed((): BroadcastRequestInput | null => {
  const { email, topic } = form.values
  return email === null ? null : { who: who.value, email, topic, moment: moment.value, test: test.value }
})
const { data: forecast, problem } = useLoaded(
  (signal) =>
    request.value
      ? call(api.broadcasts.forecast, { body: { ...request.value, test: null }, signal })
      : Promise.resolve(null),
  ['audience', 'email'],
  () => JSON.stringify({ ...request.value, test: null }),
)
const label = computed(() => {
  const verb = moment.value.when === 'now' ? 'Send to' : 'Plan for'
  return forecast.value
    ? `${verb} ${peopleOf(forecast.value.gets)}`
    : moment.value.when === 'now'
      ? 'Send'
      : 'Plan'
})

async function send(): Promise<void> {
  await form.submit(async ({ email, topic }) => {
    const body = { who: who.value, email, topic, moment: moment.value, test: test.value }
    const { id } = await call(api.broadcasts.create, { body })
    await router.push(`/outbox/broadcasts/${id}`)
  })
}
</script>

<template>
  <form class="screen write" novalidate @submit.prevent="send">
    <div class="screen-head">
      <h1>New broadcast</h1>
      <span class="grow" />
      <v-btn variant="text" to="/outbox/broadcasts">Cancel</v-btn>
      <v-btn type="submit" color="secondary" :loading="form.busy">{{ label }}</v-btn>
    </div>
    <ProblemNote :problem="form.problem ?? problem" />
    <div class="columns">
      <div class="parts">
        <section class="panel" aria-labelledby="what">
          <h2 id="what">What</h2>
          <div class="body">
            <v-autocomplete
              v-bind="form.field('email')"
              label="Email"
              :items="emails"
              item-title="name"
              item-value="id"
              :hint="chosen ? `Subject: ${chosen.subject}` : 'Emails that are published in the Library'"
              persistent-hint
            />
            <router-link
              v-if="chosen"
              :to="{
                path: `/library/emails/${chosen.id}`,
                query: { back: `/outbox/broadcasts/new?email=${chosen.id}` },
              }"
            >
              Edit this email
            </router-link>
            <router-link v-else to="/library/emails">Write a new one in the Library</router-link>
          </div>
        </section>
        <section class="panel" aria-labelledby="whom">
          <h2 id="whom">To whom</h2>
          <div class="body">
            <WhoInput v-model="who" />
            <v-select v-bind="form.field('topic')" label="Topic" :items="topicItems" hide-details />
          </div>
        </section>
        <section class="panel" aria-labelledby="when">
          <h2 id="when">When</h2>
          <div class="body"><WhenInput v-model="moment" :zone="session.zone" :now="now" /></div>
        </section>
        <section class="panel" aria-labelledby="test">
          <h2 id="test">Split test</h2>
          <div class="body">
            <SplitTestInput
              v-model="test"
              :emails="emails.filter(({ id }) => id !== form.values.email)"
              :gets="forecast?.gets ?? null"
              :open-rate="forecast?.openRate ?? null"
            />
          </div>
        </section>
      </div>
      <WhoGetsIt :forecast="forecast" :request="request" />
    </div>
  </form>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 1fr 360px;
  gap: 16px;
  align-items: start;
}

.parts {
  display: grid;
  gap: 16px;
}

.body {
  display: grid;
  gap: 12px;
  padding: 12px 16px 16px;
}

@media (width < 900px) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>
