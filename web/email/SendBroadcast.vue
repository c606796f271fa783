<script setup lang="ts">
import { computed, ref } from 'vue'
import { topicList, type SelectionWish } from '../../contract/audience.ts'
import { broadcastForecast, broadcastMade } from '../../contract/broadcasts.ts'
import { emailList } from '../../contract/email.ts'
import { change, find, read } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { peopleOf } from '../wording.ts'
import LeftOutList from './LeftOutList.vue'

/** An email to everybody who is meant: which one, what about, and who gets it before anything is sent. */
const props = defineProps<{ who: SelectionWish }>()
const open = defineModel<boolean>({ required: true })

const { data: emails } = useLoaded((signal) => read('/emails', emailList, signal), ['email'])
const { data: topics } = useLoaded((signal) => read('/topics', topicList, signal), ['audience'])
const openTopics = computed(() => (topics.value ?? []).filter(({ archived }) => !archived))

const email = ref(0)
const topic = ref<number | null>(null)
const chosen = computed(() => emails.value?.find(({ id }) => id === email.value))
const wish = computed(() => ({ who: props.who, email: email.value, topic: topic.value }))
const {
  data: forecast,
  problem,
  loading,
} = useLoaded(
  async (signal) =>
    email.value === 0 ? null : find('/broadcasts/forecast', wish.value, broadcastForecast, signal),
  ['audience', 'email'],
  () => wish.value,
)
const gets = computed(() => forecast.value?.gets ?? 0)

const { refused, busy, attempt } = useAttempts()
async function go(): Promise<void> {
  if (await attempt(() => change('/broadcasts', wish.value, broadcastMade))) open.value = false
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Send an email"
    :does="forecast ? `Send it to ${peopleOf(gets)}` : 'Send it'"
    :problem="refused ?? problem"
    :ready="gets > 0 && !loading && !busy"
    @done="go"
  >
    <label class="field">
      Email
      <select v-model="email" class="plain">
        <option :value="0" disabled>choose</option>
        <option v-for="each in emails ?? []" :key="each.id" :value="each.id">{{ each.name }}</option>
      </select>
    </label>
    <p v-if="chosen" class="soft subject">Subject: {{ chosen.subject }}</p>
    <label class="field">
      What it is about
      <select v-model="topic" class="plain">
        <option :value="null">nothing in particular: all who are subscribed</option>
        <option v-for="each in openTopics" :key="each.id" :value="each.id">
          {{ each.name }}: only who agreed to it
        </option>
      </select>
    </label>
    <div v-if="forecast" role="status">
      <p>
        <strong>{{ peopleOf(gets) }}</strong> would get it now{{
          forecast.leftOut.length ? '. Left out:' : '.'
        }}
      </p>
      <LeftOutList :left-out="forecast.leftOut" />
    </div>
  </QuickDialog>
</template>

<style scoped>
.subject {
  margin: -8px 0 0;
}

p {
  margin: 0;
}
</style>
