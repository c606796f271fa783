<script setup lang="ts">
import { ref } from 'vue'

const open = ref(true)
const keys = [
  { keys: 'Ctrl K', does: 'go to anything' },
  { keys: '← → ↑ ↓', does: 'move along a timetable' },
  { keys: 'Enter', does: 'open what is selected' },
]
</script>

<template>
  <v-menu v-model="open">
    <v-card title="Keyboard">
      <dl>
        <template v-for="each in keys" :key="each.keys">
          <dt>
            <kbd>{{ each.keys }}</kbd>
          </dt>
          <dd>{{ each.does }}</dd>
        </template>
      </dl>
    </v-card>
  </v-menu>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 6px 12px;
  margin: 0;
  padding: 0 16px 16px;
}

dd {
  margin: 0;
}
</style>
