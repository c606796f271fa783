<script setup lang="ts">
import { mdiArrowUp, mdiClose, mdiPlus } from '@mdi/js'

/** Things of several fields each, such as quotes. */
defineProps<{ one: string; fresh: object; mayBeEmpty?: boolean }>()
defineSlots<{ default(scope: { entry: object; set: (next: object) => void }): unknown }>()
const entries = defineModel<readonly object[]>({ required: true })

const set = (at: number, entry: object): void => {
  entries.value = entries.value.map((each, i) => (i === at ? entry : each))
}
const takeOut = (at: number): void => {
  entries.value = entries.value.filter((_, i) => i !== at)
}
function moveUp(at: number): void {
  const moved = [...entries.value]
  moved.splice(at - 1, 0, ...moved.splice(at, 1))
  entries.value = moved
}
</script>

<template>
  <div class="entries">
    <fieldset v-for="(entry, i) in entries" :key="i">
      <legend>{{ one }} {{ i + 1 }}</legend>
      <slot :entry="entry" :set="(next: object) => set(i, next)" />
      <div>
        <v-btn size="small" variant="text" :prepend-icon="mdiArrowUp" :disabled="i === 0" @click="moveUp(i)"
          >Move up</v-btn
        >
        <v-btn
          size="small"
          variant="text"
          :prepend-icon="mdiClose"
          :disabled="entries.length === 1 && !mayBeEmpty"
          @click="takeOut(i)"
          >Take out</v-btn
        >
      </div>
    </fieldset>
    <v-btn size="small" variant="text" :prepend-icon="mdiPlus" @click="entries = [...entries, { ...fresh }]"
      >Add {{ one }}</v-btn
    >
  </div>
</template>

<style scoped>
.entries {
  display: grid;
  gap: 12px;
  justify-items: start;
}

fieldset {
  width: 100%;
  border: 1px solid var(--rule);
  border-radius: 4px;
  padding: 4px 10px 8px;
  display: grid;
  gap: 8px;
}

legend {
  padding: 0 4px;
  color: var(--ink-soft);
}
</style>
