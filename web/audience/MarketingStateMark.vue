<script setup lang="ts">
import { marketingStateWords, type MarketingState } from '../../core/audience/permission.ts'

defineProps<{ state: MarketingState }>()

const marks: Record<MarketingState, string> = {
  waiting: 'lamp',
  subscribed: 'clear',
  unsubscribed: 'soft',
  bounced: 'stop',
  complained: 'stop',
  neverAsked: 'soft',
}
</script>

<template>
  <span class="state" :class="marks[state]">{{ marketingStateWords[state] }}</span>
</template>
