<script setup lang="ts">
import { mdiClose, mdiPlus } from '@mdi/js'
import type { Band, Scorecard } from '../../../core/audience/scores/scorecard.ts'
import InlineNumber from '../../frame/InlineNumber.vue'
import { peopleOf } from '../../wording.ts'

const card = defineModel<Scorecard>({ required: true })
defineProps<{ people: Record<string, number> }>()

function set(at: number, part: Partial<Band>): void {
  card.value = {
    ...card.value,
    bands: card.value.bands.map((band, i) => (i === at ? { ...band, ...part } : band)),
  }
}

function add(): void {
  const highest = card.value.bands.at(-1)?.from ?? 0
  let n = card.value.bands.length + 1
  while (card.value.bands.some(({ id }) => id === `band-${n}`)) n += 1
  const band = { id: `band-${n}`, name: `Band ${n}`, from: highest + 20 }
  card.value = { ...card.value, bands: [...card.value.bands, band] }
}
</script>

<template>
  <ol class="bands">
    <li v-for="(band, i) in card.bands" :key="band.id">
      <v-text-field
        class="inline"
        aria-label="Band name"
        :model-value="band.name"
        @change="set(i, { name: ($event.target as HTMLInputElement).value })"
      />
      <span v-if="band.from === null">below the next band</span>
      <template v-else>
        from
        <InlineNumber
          :label="`Points for ${band.name}`"
          :model-value="band.from"
          @update:model-value="(from) => set(i, { from })"
        />
        points
      </template>
      <span class="figures soft">{{ peopleOf(people[band.id] ?? 0) }}</span>
      <v-btn
        v-if="i > 0"
        :icon="mdiClose"
        size="x-small"
        variant="text"
        :aria-label="`Remove band ${band.name}`"
        @click="card = { ...card, bands: card.bands.filter(({ id }) => id !== band.id) }"
      />
    </li>
  </ol>
  <p class="more">
    <v-btn size="small" variant="outlined" :prepend-icon="mdiPlus" @click="add">Add band</v-btn>
  </p>
</template>

<style scoped>
.bands {
  list-style: none;
  margin: 0;
  padding: 12px 16px 0;
  display: grid;
  gap: 8px;
}

li {
  display: flex;
  align-items: center;
  gap: 12px;
}

li .v-text-field:first-child {
  flex: 0 1 180px;
}

.more {
  padding: 12px 16px;
  margin: 0;
}
</style>
