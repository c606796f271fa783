<script setup lang="ts">
import { mostCounted, outboxCounts } from '../../contract/email.ts'
import { read } from '../api.ts'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'

defineProps<{ here: 'queue' | 'sent' | 'problems' | 'broadcasts' | 'inbox' }>()

const { data } = useLoaded((signal) => read('/outbox/counts', outboxCounts, signal), ['email'])

const tabs = [
  { name: 'queue', title: 'Queue', to: '/outbox?show=queue' },
  { name: 'sent', title: 'Sent', to: '/outbox?show=sent' },
  { name: 'problems', title: 'Problems', to: '/outbox?show=problems' },
] as const

/** How many wait or did not go out; what was sent is not counted. */
function countIn(name: 'queue' | 'sent' | 'problems'): string {
  const count = name === 'sent' ? undefined : data.value?.[name]
  if (count === undefined) return ''
  return count > mostCounted ? `${countOf(mostCounted)}+` : countOf(count)
}
</script>

<template>
  <nav class="tabs" aria-label="Parts of the outbox">
    <router-link
      v-for="tab in tabs"
      :key="tab.name"
      :to="tab.to"
      :aria-current="here === tab.name ? 'page' : undefined"
    >
      {{ tab.title }} <span class="figures">{{ countIn(tab.name) }}</span>
    </router-link>
    <router-link to="/outbox/broadcasts" :aria-current="here === 'broadcasts' ? 'page' : undefined"
      >Broadcasts</router-link
    >
    <router-link to="/outbox/inbox" :aria-current="here === 'inbox' ? 'page' : undefined"
      >Test inbox</router-link
    >
  </nav>
</template>
