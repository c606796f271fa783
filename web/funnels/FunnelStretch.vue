<script setup lang="ts">
import { mdiPlus } from '@mdi/js'
import type { StretchView } from '../../contract/funnels.ts'
import { countOf } from '../wording.ts'

/** The line from one station to the next: how many go on, how many leave, and where a step can be put in. */
defineProps<{
  /** Nothing where it cannot be counted. */
  stretch: StretchView | undefined
  after: string
  last: boolean
}>()
defineEmits<{ add: [] }>()

const percent = (share: number): string => `${(share * 100).toFixed(1)} %`
const intervalOf = ({ low, high }: StretchView): string =>
  `95 % interval: ${percent(low)} to ${percent(high)}`
</script>

<template>
  <div class="stretch" :class="{ weakest: stretch?.weakest, last }">
    <template v-if="stretch">
      <span v-if="stretch.readable" class="rate figures" :title="intervalOf(stretch)">
        {{ percent(stretch.rate) }}
      </span>
      <span v-else class="soft">too few to read</span>
      <span class="soft figures">{{ countOf(stretch.there) }} of {{ countOf(stretch.here) }}</span>
      <span v-if="stretch.here > stretch.there" class="leave soft">
        <span class="figures">{{ countOf(stretch.here - stretch.there) }}</span> leave
      </span>
      <span v-if="stretch.weakest" class="why" :title="stretch.weakest">weakest stretch</span>
    </template>
    <v-btn
      class="add"
      :icon="mdiPlus"
      size="x-small"
      variant="outlined"
      :aria-label="`Add a step after ${after}`"
      @click="$emit('add')"
    />
  </div>
</template>

<style scoped>
.stretch {
  position: relative;
  display: grid;
  align-content: start;
  justify-items: center;
  gap: 2px;
  width: 116px;
  padding-top: 70px;
  text-align: center;
}

.stretch::before {
  content: '';
  position: absolute;
  top: 118px;
  left: 0;
  right: 0;
  border-top: 3px solid var(--petrol);
}

/* Nobody knows what comes after the last station. */
.last::before {
  border-top-style: dotted;
}

.weakest::before {
  border-top: 6px solid var(--signal);
  top: 116px;
}

.rate {
  font-weight: 700;
  font-size: 16px;
}

.add {
  position: absolute;
  right: 8px;
  top: 130px;
}

/* Who does not go on turns off the line, and is nowhere after it. */
.leave {
  position: absolute;
  top: 121px;
  left: 14px;
  padding: 34px 0 0;
  white-space: nowrap;
}

.leave::before {
  content: '';
  position: absolute;
  top: 0;
  left: 6px;
  width: 14px;
  height: 30px;
  border: solid var(--ink-soft);
  border-width: 0 0 3px 2px;
}

.why {
  position: absolute;
  top: 178px;
  left: 14px;
  white-space: nowrap;
  font-weight: 600;
  color: var(--stop);
}
</style>
