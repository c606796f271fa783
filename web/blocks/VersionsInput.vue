<script setup lang="ts">
import { computed, ref } from 'vue'
import { useNowIso } from '../now.ts'
import { useSession } from '../workspace/session.ts'
import { whenOf } from '../wording.ts'

/** The versions of a thing, and the way back to one of them. */
const props = defineProps<{
  versions: readonly { number: number; madeAt: string; madeBy: string; published: boolean }[]
}>()
defineEmits<{ goBack: [version: number] }>()
const session = useSession()
const now = useNowIso()
const zone = computed(() => session.me?.business.zone ?? 'UTC')
const items = computed(() =>
  props.versions.map(({ number, madeAt, madeBy, published }) => ({
    value: number,
    title: `${number}: ${whenOf(madeAt, zone.value, now.value)}, ${madeBy}${published ? ' (published)' : ''}`,
  })),
)
const chosen = ref<number | null>(null)
</script>

<template>
  <div class="versions">
    <v-select v-model="chosen" label="Version" :items="items" />
    <v-btn v-if="chosen !== null" size="small" variant="outlined" @click="$emit('goBack', chosen)">
      Go back to version {{ chosen }}
    </v-btn>
  </div>
</template>

<style scoped>
.versions {
  display: grid;
  gap: 12px;
  justify-items: start;
}

.versions > .v-select {
  justify-self: stretch;
}
</style>
