<script setup lang="ts">
import { computed, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { onSignedOut } from './api.ts'
import ClockStrip from './frame/ClockStrip.vue'
import TheLine from './frame/TheLine.vue'
import WorkBar from './frame/WorkBar.vue'
import { useSession } from './workspace/session.ts'

const session = useSession()
const route = useRoute()
const router = useRouter()
onSignedOut(() => session.end())
// Whoever signs in again goes on where they were.
watch(
  () => session.me,
  (me) => {
    if (me === null && route.path !== '/sign-in')
      void router.push({ path: '/sign-in', query: { to: route.fullPath } })
  },
)

const inside = computed(() => session.me !== null && route.path !== '/sign-in')
</script>

<template>
  <v-app>
    <a class="skip" href="#content">Skip to the content</a>
    <TheLine v-if="inside" />
    <WorkBar v-if="inside" />
    <main id="content" tabindex="-1" :class="{ inside }">
      <!-- Another thing is another screen: what the last one kept is not the next one's. -->
      <router-view v-slot="{ Component, route: shown }">
        <component :is="Component" :key="shown.path" />
      </router-view>
    </main>
    <ClockStrip v-if="inside" />
  </v-app>
</template>

<style scoped>
main {
  outline: 0;
}

main.inside {
  padding-bottom: 36px;
}

.skip {
  position: absolute;
  left: -9999px;
  z-index: 10;
  background: var(--surface);
  padding: 8px 16px;
}

.skip:focus {
  left: 8px;
  top: 8px;
}
</style>
