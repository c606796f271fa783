<script setup lang="ts">
import { computed, ref } from 'vue'
import { mergeNameOfJunction } from '../../core/blocks/mergeValues.ts'

/** The two ways into a junction, ready to be copied. */
const props = defineProps<{ publicUrl: string; path: string }>()
const ways = computed(() => [
  {
    label: 'After a form',
    text: `${props.publicUrl}/j/${props.path}`,
    hint: 'Or choose “A junction” wherever a form or a button leads on.',
  },
  {
    label: 'In emails',
    text: `{${mergeNameOfJunction(props.path)}}`,
    hint: 'Each reader gets a link of their own. Buttons of an email lead here, too.',
  },
])
const copied = ref('')
async function copy(text: string): Promise<void> {
  await navigator.clipboard.writeText(text)
  copied.value = text
}
</script>

<template>
  <div v-for="way in ways" :key="way.label" class="way">
    <v-text-field :label="way.label" :model-value="way.text" readonly class="figures" hide-details />
    <v-btn size="small" variant="text" @click="copy(way.text)">
      {{ copied === way.text ? 'Copied' : 'Copy' }}
    </v-btn>
    <p class="soft">{{ way.hint }}</p>
  </div>
</template>

<style scoped>
.way {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 4px;
  align-items: center;
}

.way p {
  grid-column: 1 / -1;
  margin: 0;
}
</style>
