<script setup lang="ts">
import { useElementVisibility } from '@vueuse/core'
import { onBeforeUnmount, ref, useTemplateRef, watch } from 'vue'
import { takeTurn } from './miniatureTurns.ts'

/** A page as its visitors see it, a few centimetres wide; drawn when it is seen, one after the other. */
defineProps<{ src: string }>()
const frame = useTemplateRef<HTMLElement>('frame')
const visible = useElementVisibility(frame)
const shown = ref(false)
let left = false
let endTurn: (() => void) | undefined

const stop = watch(visible, async (seen) => {
  if (!seen) return
  stop()
  endTurn = await takeTurn()
  if (left) endTurn()
  else shown.value = true
})
onBeforeUnmount(() => {
  left = true
  endTurn?.()
})
</script>

<template>
  <span ref="frame" class="miniature" aria-hidden="true">
    <iframe v-if="shown" :src="src" title="" tabindex="-1" scrolling="no" @load="endTurn?.()" />
  </span>
</template>

<style scoped>
.miniature {
  display: block;
  width: 72px;
  height: 54px;
  overflow: hidden;
  border: 1px solid var(--rule);
  background: #fff;
}

iframe {
  width: 1280px;
  height: 960px;
  border: 0;
  transform: scale(0.05625);
  transform-origin: 0 0;
  pointer-events: none;
}
</style>
