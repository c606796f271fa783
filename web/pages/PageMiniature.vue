<script setup lang="ts">
import { useElementVisibility } from '@vueuse/core'
import { onBeforeUnmount, ref, useTemplateRef, watch } from 'vue'
import { takeTurn } from './miniatureTurns.ts'

/** A page as its visitors see it, a few centimetres wide (pixels); drawn when it is seen, one after the other. */
withDefaults(defineProps<{ src: string; width?: number }>(), { width: 72 })
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
  <span ref="frame" class="miniature" aria-hidden="true" :style="{ '--width': width }">
    <iframe v-if="shown" :src="src" title="" tabindex="-1" scrolling="no" @load="endTurn?.()" />
  </span>
</template>

<style scoped>
.miniature {
  display: block;
  width: calc(var(--width) * 1px);
  height: calc(var(--width) * 0.75px);
  overflow: hidden;
  border: 1px solid var(--rule);
  background: #fff;
}

iframe {
  width: 1280px;
  height: 960px;
  border: 0;
  transform: scale(calc(var(--width) / 1280));
  transform-origin: 0 0;
  pointer-events: none;
}
</style>
