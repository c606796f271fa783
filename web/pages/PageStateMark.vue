<script setup lang="ts">
import type { PageState } from '../../contract/pages.ts'
import StateMark from '../frame/StateMark.vue'

defineProps<{ state: PageState; hasDraft?: boolean }>()
const tones: Record<PageState, 'clear' | 'lamp' | 'soft'> = { draft: 'lamp', live: 'clear', archived: 'soft' }
</script>

<template>
  <StateMark :tone="tones[state]">{{ state }}{{ hasDraft ? ', with changes' : '' }}</StateMark>
</template>
