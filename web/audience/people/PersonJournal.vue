<script setup lang="ts">
import { computed, ref } from 'vue'
import type { JournalLine } from '../../../contract/audience/people.ts'
import { whenOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'

const props = defineProps<{ lines: JournalLine[]; now: string }>()
const session = useSession()

const kinds: { value: JournalLine['sort'] | 'all'; title: string }[] = [
  { value: 'all', title: 'Everything' },
  { value: 'did', title: 'What they did' },
  { value: 'mail', title: 'Mail' },
  { value: 'followup', title: 'Decisions' },
  { value: 'people', title: 'Tags and data' },
]
const kind = ref<JournalLine['sort'] | 'all'>('all')
const shown = computed(() => props.lines.filter((line) => kind.value === 'all' || line.sort === kind.value))
</script>

<template>
  <section class="panel" aria-labelledby="journal">
    <div class="panel-head">
      <h2 id="journal">Journal</h2>
      <div class="kinds" role="group" aria-label="Show">
        <button
          v-for="each in kinds"
          :key="each.value"
          type="button"
          :aria-pressed="kind === each.value"
          @click="kind = each.value"
        >
          {{ each.title }}
        </button>
      </div>
    </div>
    <ol tabindex="0" aria-label="Journal, newest first">
      <li v-for="line in shown" :key="line.id" :class="line.sort">
        <time class="figures" :datetime="line.at">{{ whenOf(line.at, session.zone, now) }}</time>
        <span
          >{{ line.title }} <span v-if="line.reason" class="soft">{{ line.reason }}</span></span
        >
      </li>
      <li v-if="!shown.length" class="soft none">Nothing of this kind has happened.</li>
    </ol>
  </section>
</template>

<style scoped>
.panel-head {
  flex-wrap: wrap;
}

.kinds {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}

.kinds button {
  border: 1px solid var(--rule);
  border-radius: 4px;
  background: none;
  color: inherit;
  padding: 1px 8px;
  cursor: pointer;
}

.kinds button[aria-pressed='true'] {
  background: var(--petrol);
  border-color: var(--petrol);
  color: var(--surface);
}

ol {
  list-style: none;
  margin: 0;
  padding: 4px 0;
  max-height: calc(100vh - 220px);
  overflow: auto;
}

li {
  display: grid;
  grid-template-columns: 156px minmax(0, 1fr);
  gap: 12px;
  padding: 5px 16px;
  overflow-wrap: anywhere;
}

li + li {
  border-top: 1px solid var(--rule);
}

time {
  color: var(--ink-soft);
  white-space: nowrap;
}

/* What the person did stands out from what was done about them. */
li.none {
  display: block;
}

.did > span {
  font-weight: 600;
}

.did .soft {
  font-weight: 400;
}
</style>
