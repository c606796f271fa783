<script setup lang="ts" generic="Value extends string">
/** Shows one of a few views of the same thing. */
defineProps<{ label: string; choices: Readonly<Record<Value, string>> }>()
const chosen = defineModel<Value>({ required: true })
</script>

<template>
  <v-btn-toggle v-model="chosen" mandatory density="compact" variant="outlined" :aria-label="label">
    <v-btn
      v-for="(title, value) in choices"
      :key="value"
      :value="value"
      size="small"
      :aria-pressed="chosen === value"
    >
      {{ title }}
    </v-btn>
  </v-btn-toggle>
</template>
