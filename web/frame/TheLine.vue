<script setup lang="ts">
import { mdiAccountCircleOutline, mdiHelpCircleOutline, mdiMagnify } from '@mdi/js'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useEventListener } from '@vueuse/core'
import { stationPath, stations } from '../places.ts'
import { useSession } from '../workspace/session.ts'
import MenuButton from './MenuButton.vue'
import { openLater } from './openLater.ts'

const { open: searching, Opened: GoAnywhere } = openLater(() => import('./GoAnywhere.vue'))
const menus = {
  rehearsal: () => import('./RehearsalMenu.vue'),
  help: () => import('./KeyboardHelp.vue'),
  account: () => import('./AccountMenu.vue'),
}

const route = useRoute()
const router = useRouter()
const session = useSession()

const line = computed(() => stations.map((name) => ({ name, to: stationPath(router, name) })))

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.key.toLowerCase() === 'k' && (event.ctrlKey || event.metaKey)) {
    event.preventDefault()
    searching.value = true
  }
})
</script>

<template>
  <header class="top">
    <div class="business">{{ session.me?.business.name }}</div>
    <nav aria-label="Main">
      <ul class="line">
        <li v-for="station in line" :key="station.name">
          <router-link
            v-if="station.to"
            :to="station.to"
            :class="{ here: route.meta.station === station.name }"
            :aria-current="route.meta.station === station.name ? 'page' : undefined"
          >
            {{ station.name }}
          </router-link>
          <span v-else class="closed" :title="`${station.name} is not open yet`">
            {{ station.name }}<span class="visually-hidden"> (not open yet)</span>
          </span>
        </li>
      </ul>
    </nav>
    <div class="tools">
      <v-btn
        class="search"
        variant="outlined"
        size="small"
        :prepend-icon="mdiMagnify"
        @click="searching = true"
      >
        Go to… <kbd>Ctrl K</kbd>
      </v-btn>
      <MenuButton :menu="menus.rehearsal" text="Rehearsal" />
      <MenuButton :menu="menus.help" :icon="mdiHelpCircleOutline" aria-label="Help" />
      <MenuButton
        :menu="menus.account"
        :icon="mdiAccountCircleOutline"
        :aria-label="`Account of ${session.me?.account.name}`"
      />
    </div>
    <GoAnywhere v-if="searching" v-model="searching" />
  </header>
</template>

<style scoped>
.top {
  display: flex;
  align-items: stretch;
  gap: 24px;
  height: 60px;
  padding: 0 24px;
  background: var(--paper);
}

.business {
  font-weight: 800;
  align-self: center;
  white-space: nowrap;
}

nav {
  flex: 1;
  min-width: 0;
}

.line {
  display: flex;
  justify-content: space-between;
  list-style: none;
  margin: 0;
  padding: 0;
  height: 100%;
  position: relative;
}

.line::before {
  content: '';
  position: absolute;
  top: 19px;
  left: 0;
  right: 0;
  height: 2px;
  background: var(--petrol);
}

.line li {
  flex: 1;
  text-align: center;
}

.line a,
.closed {
  position: relative;
  display: inline-block;
  padding: 32px 8px 6px;
  color: var(--ink);
  text-decoration: none;
}

.line a::before,
.closed::before {
  content: '';
  position: absolute;
  top: 13px;
  left: 50%;
  width: 14px;
  height: 14px;
  margin-left: -7px;
  border-radius: 50%;
  border: 2px solid var(--petrol);
  background: var(--paper);
}

.line a:hover {
  text-decoration: underline;
}

.line a.here {
  font-weight: 800;
}

.line a.here::before {
  background: var(--petrol);
  box-shadow:
    0 0 0 3px var(--paper),
    0 0 0 5px var(--petrol);
}

.closed {
  color: var(--ink-soft);
}

.closed::before {
  border-style: dashed;
  border-color: var(--ink-soft);
}

.tools {
  display: flex;
  align-items: center;
  gap: 4px;
}

@media (max-width: 900px) {
  .top {
    flex-wrap: wrap;
    height: auto;
    gap: 0 12px;
    padding: 4px 12px;
  }

  nav {
    order: 3;
    flex-basis: 100%;
    overflow-x: auto;
  }

  .business {
    flex: 1;
  }

  .search :deep(kbd) {
    display: none;
  }
}
</style>
