<script setup lang="ts">
import { countOf } from '../wording.ts'

/** A share with its interval: “62 % (58 to 66)”. */
const props = defineProps<{
  share: { of: number; among: number; rate: number; low: number; high: number }
  /** Says how many it is, too. */
  count?: boolean
}>()
const percent = (of: number): string => (of * 100).toFixed(0)
const interval = (): string => `${percent(props.share.low)} to ${percent(props.share.high)}`
</script>

<template>
  <span v-if="share.among === 0" class="soft">–</span>
  <span v-else class="figures" :title="`95 % interval: ${interval()} %, ${share.of} of ${share.among}`">
    <template v-if="count">{{ countOf(share.of) }} · </template>{{ percent(share.rate) }} %
    <small class="soft">({{ interval() }})</small>
  </span>
</template>
