<script setup lang="ts">
import type { FollowupState } from '../../contract/followups.ts'

defineProps<{ state: FollowupState }>()

const marks: Record<FollowupState, string> = {
  draft: 'lamp',
  live: 'clear',
  paused: 'lamp',
  closing: 'lamp',
  archived: 'soft',
}
</script>

<template>
  <span class="state" :class="marks[state]">{{ state }}</span>
</template>
