<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import { mostCounted, type OutboxCounts } from '../../contract/email.ts'
import { call } from '../api.ts'
import SectionTabs from '../frame/SectionTabs.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'

const { data } = useLoaded((signal) => call(api.email.outboxCounts, { signal }), ['email'])

const counted = (name: keyof OutboxCounts): string => {
  const count = data.value?.[name]
  if (count === undefined) return ''
  return count > mostCounted ? `${countOf(mostCounted)}+` : countOf(count)
}

const tabs = computed(() => [
  { title: 'Queue', to: '/outbox?show=queue', count: counted('queue') },
  { title: 'Sent', to: '/outbox' },
  { title: 'Problems', to: '/outbox?show=problems', count: counted('problems') },
  { title: 'Broadcasts', to: '/outbox/broadcasts' },
  { title: 'Calendar', to: '/outbox/calendar' },
  { title: 'Test inbox', to: '/outbox/inbox' },
  { title: 'Sending', to: '/outbox/sending' },
])
</script>

<template>
  <SectionTabs label="Parts of the outbox" :tabs="tabs" />
</template>
