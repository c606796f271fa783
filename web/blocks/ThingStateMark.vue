<script setup lang="ts">
import type { ThingState } from '../../contract/drafts.ts'
import StateMark from '../frame/StateMark.vue'

defineProps<{ state: ThingState; hasDraft?: boolean }>()
const tones: Record<ThingState, 'clear' | 'lamp' | 'soft'> = {
  draft: 'lamp',
  live: 'clear',
  archived: 'soft',
}
</script>

<template>
  <StateMark :tone="tones[state]">{{ state }}{{ hasDraft ? ', with changes' : '' }}</StateMark>
</template>
