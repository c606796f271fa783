<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { searchHits, type SearchHit } from '../../contract/search.ts'
import { queryOf, read } from '../api.ts'
import { useLoaded } from '../loading.ts'

const open = defineModel<boolean>({ required: true })
const router = useRouter()

const places: SearchHit[] = [
  { sort: 'followup', title: 'Today', detail: 'arrivals and departures', to: '/today' },
  { sort: 'followup', title: 'People', detail: 'everybody on the list', to: '/people' },
  { sort: 'followup', title: 'Follow-ups', detail: 'what goes out by itself', to: '/follow-ups' },
  { sort: 'followup', title: 'Outbox', detail: 'queue, sent, problems', to: '/outbox' },
  {
    sort: 'followup',
    title: 'Test inbox',
    detail: 'what the stand-in mail server took',
    to: '/outbox/inbox',
  },
]

const vFocus = { mounted: (field: HTMLElement) => field.focus() }

const typed = ref('')
const settled = refDebounced(typed, 150)
const { data } = useLoaded(
  (signal) => read(`/search${queryOf({ q: settled.value })}`, searchHits, signal),
  [],
  () => settled.value,
)
const hits = computed(() => {
  const wanted = typed.value.trim().toLowerCase()
  return [...places.filter(({ title }) => title.toLowerCase().includes(wanted)), ...(data.value ?? [])]
})
const selected = ref(0)
watch(hits, () => (selected.value = 0))
watch(open, () => (typed.value = ''))

function step(by: number): void {
  selected.value = (selected.value + by + hits.value.length) % Math.max(hits.value.length, 1)
}

async function go(hit: SearchHit | undefined): Promise<void> {
  if (!hit) return
  open.value = false
  await router.push(hit.to)
}
</script>

<template>
  <v-dialog v-model="open" width="560" aria-label="Go to">
    <div class="panel go">
      <input
        v-model="typed"
        v-focus
        type="search"
        aria-label="Go to a place, a person, a follow-up"
        placeholder="Go to a place, a person, a follow-up"
        role="combobox"
        aria-expanded="true"
        aria-controls="go-hits"
        :aria-activedescendant="hits.length ? `go-${selected}` : undefined"
        @keydown.down.prevent="step(1)"
        @keydown.up.prevent="step(-1)"
        @keydown.enter.prevent="go(hits[selected])"
      />
      <ul v-if="hits.length" id="go-hits" role="listbox" aria-label="Found">
        <li
          v-for="(hit, i) in hits"
          :id="`go-${i}`"
          :key="hit.to"
          role="option"
          :aria-selected="i === selected"
          @click="go(hit)"
          @mousemove="selected = i"
        >
          <strong>{{ hit.title }}</strong> <span class="soft">{{ hit.detail }}</span>
        </li>
      </ul>
      <p v-else class="soft none">Nothing is called that.</p>
    </div>
  </v-dialog>
</template>

<style scoped>
input {
  width: 100%;
  border: 1px solid var(--ink-soft);
  border-radius: 4px;
  padding: 8px 12px;
  font-size: 16px;
  color: inherit;
}

.go {
  padding: 16px;
}

ul {
  list-style: none;
  margin: 12px 0 0;
  padding: 0;
  max-height: 50vh;
  overflow: auto;
}

li {
  display: flex;
  gap: 12px;
  padding: 8px 12px;
  border-radius: 4px;
  cursor: pointer;
}

li[aria-selected='true'] {
  background: color-mix(in srgb, var(--petrol) 12%, transparent);
}

.none {
  margin: 12px;
}
</style>
