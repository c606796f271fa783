<script setup lang="ts">
import { mdiArrowLeft, mdiArrowRight } from '@mdi/js'
import type { StationView } from '../../contract/funnels.ts'
import { purposes } from '../../core/pages/page.ts'

/** What a step of a funnel is, and what can be done with it there. */
defineProps<{ station: StationView; place: number; among: number }>()
const emit = defineEmits<{ move: [to: number]; takeOut: [] }>()
</script>

<template>
  <div class="inspector">
    <h2>{{ station.title }}</h2>
    <p class="soft">
      Step {{ place + 1 }} of {{ among }}:
      {{ station.purpose ? purposes[station.purpose].name : 'an address elsewhere' }}.
    </p>
    <p v-if="station.state === 'gone'">Its page was deleted. Take it out, or put another one in its place.</p>
    <p v-else-if="station.state === 'draft'">
      Nobody can see it yet: publish it before the funnel goes live.
    </p>
    <p v-else-if="station.state === 'archived'">
      It was put away: whoever comes here sees that it is not there.
    </p>
    <div class="links">
      <v-btn v-if="station.page" variant="outlined" size="small" :to="`/library/pages/${station.page}`">
        Open the page
      </v-btn>
      <v-btn
        v-if="station.url && (station.state === 'live' || station.state === 'outside')"
        variant="outlined"
        size="small"
        :href="station.url"
        target="_blank"
        rel="noopener"
      >
        See it as visitors do
      </v-btn>
    </div>
    <p class="address soft">{{ station.url }}</p>
    <div class="links">
      <v-btn
        :prepend-icon="mdiArrowLeft"
        variant="text"
        size="small"
        :disabled="place === 0"
        @click="emit('move', place - 1)"
      >
        Earlier
      </v-btn>
      <v-btn
        :append-icon="mdiArrowRight"
        variant="text"
        size="small"
        :disabled="place === among - 1"
        @click="emit('move', place + 1)"
      >
        Later
      </v-btn>
    </div>
    <v-btn variant="text" color="error" size="small" @click="emit('takeOut')"
      >Take it out of the funnel</v-btn
    >
  </div>
</template>

<style scoped>
.inspector {
  display: grid;
  gap: 8px;
  justify-items: start;
  padding: 16px;
}

.inspector p {
  margin: 0;
}

.links {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.address {
  overflow-wrap: anywhere;
}
</style>
