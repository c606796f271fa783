<script setup lang="ts">
import type { FollowupState } from '../../contract/followups.ts'
import StateMark from '../frame/StateMark.vue'

defineProps<{ state: FollowupState }>()

const tones = {
  draft: 'lamp',
  live: 'clear',
  paused: 'lamp',
  closing: 'lamp',
  archived: 'soft',
} as const satisfies Record<FollowupState, string>
</script>

<template>
  <StateMark :tone="tones[state]">{{ state }}</StateMark>
</template>
