<script setup lang="ts">
import { marketingStateWords, type MarketingState } from '../../../core/audience/people/permission.ts'
import StateMark from '../../frame/StateMark.vue'

defineProps<{ state: MarketingState }>()

const tones = {
  waiting: 'lamp',
  subscribed: 'clear',
  unsubscribed: 'soft',
  bounced: 'stop',
  complained: 'stop',
  neverAsked: 'soft',
} as const satisfies Record<MarketingState, string>
</script>

<template>
  <StateMark :tone="tones[state]">{{ marketingStateWords[state] }}</StateMark>
</template>
