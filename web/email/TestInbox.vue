<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import { call, linkTo } from '../api.ts'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import OutboxTabs from './OutboxTabs.vue'

const props = defineProps<{ id: number | null }>()

const session = useSession()
const typed = ref('')
const search = refDebounced(typed, 200)
const { data: rows, problem } = useLoaded(
  (signal) => call(api.email.inbox, { query: { q: search.value }, signal }),
  ['email'],
  () => search.value,
)

const chosen = computed(() => props.id ?? rows.value?.[0]?.id ?? null)
const { data: message, problem: gone } = useLoaded(
  async (signal) =>
    chosen.value === null ? null : call(api.email.message, { params: { id: chosen.value }, signal }),
  [],
  () => chosen.value,
)

const parts = { html: 'HTML', text: 'Text', source: 'Source' } as const
const part = ref<keyof typeof parts>('html')
const now = useNowIso()
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Test inbox</h1>
      <OutboxTabs />
      <span class="grow" />
      <v-text-field v-model="typed" label="Search by subject or address" max-width="280" />
    </div>
    <ProblemNote :problem="problem ?? gone" />
    <div v-if="rows" class="sides">
      <nav class="panel messages" aria-label="Messages, newest first">
        <router-link
          v-for="row in rows"
          :key="row.id"
          :to="`/outbox/inbox/${row.id}`"
          :aria-current="row.id === chosen ? 'true' : undefined"
        >
          <span class="subject">{{ row.subject }}</span>
          <span class="figures soft">{{ whenOf(row.receivedAt, session.zone, now) }}</span>
          <span class="to">{{ row.to.join(', ') }}</span>
        </router-link>
        <p v-if="!rows.length" class="none">
          {{ search ? `No results for “${search}”.` : 'No messages yet. Sign up on a page and look again.' }}
        </p>
      </nav>
      <article v-if="message" class="panel message" aria-label="Message">
        <header>
          <h2>{{ message.subject }}</h2>
          <p class="soft">From {{ message.from }} to {{ message.to.join(', ') }}</p>
          <ChoiceToggle v-model="part" label="View" :choices="parts" />
        </header>
        <iframe
          v-if="part === 'html'"
          :key="message.id"
          :src="linkTo(api.email.messageHtml, { params: { id: message.id } })"
          sandbox="allow-popups allow-popups-to-escape-sandbox"
          :title="`The email ${message.subject}`"
        />
        <pre v-else tabindex="0">{{ part === 'text' ? message.text : message.raw }}</pre>
      </article>
    </div>
  </div>
</template>

<style scoped>
.sides {
  display: grid;
  grid-template-columns: 320px minmax(0, 1fr);
  gap: 20px;
  align-items: start;
}

.messages {
  max-height: calc(100vh - 180px);
  overflow: auto;
}

.messages a {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 8px;
  padding: 10px 16px;
  color: inherit;
  text-decoration: none;
  border-bottom: 1px solid var(--rule);
  border-left: 3px solid transparent;
}

.messages a[aria-current] {
  border-left-color: var(--petrol);
  background: color-mix(in srgb, var(--petrol) 8%, transparent);
}

.subject {
  font-weight: 600;
}

.to {
  grid-column: 1 / -1;
  color: var(--ink-soft);
  overflow-wrap: anywhere;
}

header {
  padding: 14px 16px;
  border-bottom: 1px solid var(--rule);
}

header p {
  margin: 4px 0 10px;
}

iframe {
  display: block;
  width: 100%;
  height: calc(100vh - 310px);
  min-height: 320px;
  border: 0;
  background: #fff;
}

pre {
  margin: 0;
  padding: 16px;
  max-height: calc(100vh - 310px);
  overflow: auto;
  font: 13px/19px var(--mono);
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}

@media (max-width: 800px) {
  .sides {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
