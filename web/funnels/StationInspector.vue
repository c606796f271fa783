<script setup lang="ts">
import { mdiArrowLeft, mdiArrowRight } from '@mdi/js'
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { StationView } from '../../contract/funnels.ts'
import { pagesOf, type Station } from '../../core/funnels/funnel.ts'
import { purposes } from '../../core/pages/page.ts'
import { call } from '../api.ts'
import InlineNumber from '../frame/InlineNumber.vue'
import { useLoaded } from '../loading.ts'

/** What a step of a funnel is, and what can be done with it there. */
const props = defineProps<{ station: StationView; place: number; among: number; taken: readonly Station[] }>()
const emit = defineEmits<{
  move: [to: number]
  share: [other: { page: number; share: number } | null]
  copy: []
  takeOut: []
}>()

/** Another page that a share of its visitors gets. */
const adding = ref(false)
const { data: pages } = useLoaded((signal) => call(api.pages.list, { signal }), ['pages'])
const offered = computed(() =>
  (pages.value ?? []).filter(
    ({ id, state }) => state !== 'archived' && !props.taken.some((each) => pagesOf(each).includes(id)),
  ),
)
function put(page: number | null): void {
  if (page === null) return
  adding.value = false
  emit('share', { page, share: 50 })
}
function setShare(share: number | null): void {
  const page = props.station.other?.page
  if (page && share !== null && share <= 99) emit('share', { page, share })
}
</script>

<template>
  <div class="inspector">
    <h2>{{ station.title }}</h2>
    <p class="soft">
      Step {{ place + 1 }} of {{ among }}:
      {{
        station.purpose
          ? purposes[station.purpose].name
          : station.quiz !== null
            ? 'a quiz'
            : station.junction === null
              ? 'an address elsewhere'
              : 'a junction'
      }}.
    </p>
    <p v-if="station.state === 'gone'">It was deleted. Take it out, or put another one in its place.</p>
    <p v-else-if="station.state === 'draft'">Nobody can see it yet: it goes live with the funnel.</p>
    <p v-else-if="station.state === 'archived'">
      It was put away: whoever comes here sees that it is not there.
    </p>
    <div class="links">
      <v-btn v-if="station.page" variant="outlined" size="small" :to="`/library/pages/${station.page}`">
        Open the page
      </v-btn>
      <v-btn
        v-if="station.junction && station.state !== 'gone'"
        variant="outlined"
        size="small"
        :to="`/library/junctions/${station.junction}`"
      >
        Open the junction
      </v-btn>
      <v-btn
        v-if="station.quiz && station.state !== 'gone'"
        variant="outlined"
        size="small"
        :to="`/library/quizzes/${station.quiz}`"
      >
        Open the quiz
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
    <template v-if="station.page">
      <h3>Two pages against each other</h3>
      <template v-if="station.other">
        <p>
          <router-link :to="`/library/pages/${station.other.page}`">{{ station.other.title }}</router-link>
          stands beside it. A browser goes on seeing the same one, and so does a person who is known.
        </p>
        <p>
          <InlineNumber
            :model-value="station.other.share"
            label="Its share of the visitors (%)"
            :min="1"
            @update:model-value="setShare"
          />
          % of the visitors get it.
        </p>
        <v-btn variant="text" size="small" @click="emit('share', null)">Take the second page out</v-btn>
      </template>
      <v-autocomplete
        v-else-if="adding"
        class="share"
        label="The second page"
        :items="offered"
        item-title="name"
        item-value="id"
        auto-select-first
        autofocus
        @update:model-value="put"
      />
      <v-btn v-else variant="text" size="small" @click="adding = true">Put a second page beside it</v-btn>
      <v-btn variant="text" size="small" @click="emit('copy')">Copy its page as the next step</v-btn>
    </template>
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

.inspector h3 {
  margin: 8px 0 0;
  font-size: 0.9rem;
}

.share {
  width: 100%;
}

.address {
  overflow-wrap: anywhere;
}
</style>
