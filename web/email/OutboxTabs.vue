<script setup lang="ts">
import { outboxList, type OutboxList } from '../../contract/email.ts'
import { read } from '../api.ts'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'

const props = defineProps<{
  counts?: OutboxList['counts']
  here: 'queue' | 'sent' | 'problems' | 'broadcasts' | 'inbox'
}>()

// The test inbox brings no counts along.
const { data } = props.counts
  ? { data: null }
  : useLoaded((signal) => read('/outbox?size=1', outboxList, signal), ['email'])

const tabs = [
  { name: 'queue', title: 'Queue', to: '/outbox?show=queue' },
  { name: 'sent', title: 'Sent', to: '/outbox?show=sent' },
  { name: 'problems', title: 'Problems', to: '/outbox?show=problems' },
] as const

const countIn = (name: 'queue' | 'sent' | 'problems'): string =>
  countOf((props.counts ?? data?.value?.counts)?.[name] ?? 0)
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
