<script setup lang="ts">
import type { ImportView } from '../../../contract/audience/imports.ts'
import StateMark from '../../frame/StateMark.vue'

defineProps<{ state: ImportView['state'] }>()

const marks = {
  uploaded: { tone: 'lamp', words: 'uploaded' },
  checking: { tone: 'lamp', words: 'previewing' },
  checked: { tone: 'lamp', words: 'previewed, nothing imported yet' },
  running: { tone: 'lamp', words: 'importing' },
  done: { tone: 'clear', words: 'imported' },
  undoing: { tone: 'lamp', words: 'undoing' },
  undone: { tone: 'soft', words: 'undone' },
} as const satisfies Record<ImportView['state'], { tone: string; words: string }>
</script>

<template>
  <StateMark :tone="marks[state].tone">{{ marks[state].words }}</StateMark>
</template>
