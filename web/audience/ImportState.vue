<script setup lang="ts">
import type { ImportView } from '../../contract/imports.ts'

defineProps<{ state: ImportView['state'] }>()

const marks: Record<ImportView['state'], { className: string; words: string }> = {
  uploaded: { className: 'lamp', words: 'uploaded' },
  checking: { className: 'lamp', words: 'being tried out' },
  checked: { className: 'lamp', words: 'tried out, nothing written' },
  running: { className: 'lamp', words: 'under way' },
  done: { className: 'clear', words: 'done' },
  undoing: { className: 'lamp', words: 'being taken back' },
  undone: { className: 'soft', words: 'taken back' },
}
</script>

<template>
  <span class="state" :class="marks[state].className">{{ marks[state].words }}</span>
</template>
