<script setup lang="ts">
import { computed, ref } from 'vue'
import type { JournalLine } from '../../../contract/audience/people.ts'
import ChoiceToggle from '../../frame/ChoiceToggle.vue'
import { whenOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'

const props = defineProps<{ lines: JournalLine[]; now: string }>()
const session = useSession()

const titles: Record<JournalLine['category'] | 'all', string> = {
  all: 'All',
  did: 'Activity',
  mail: 'Emails',
  followup: 'Decisions',
  people: 'Tags and data',
}
const kind = ref<JournalLine['category'] | 'all'>('all')
const shown = computed(() =>
  props.lines.filter((line) => kind.value === 'all' || line.category === kind.value),
)
</script>

<template>
  <section class="panel" aria-labelledby="journal">
    <div class="panel-head">
      <h2 id="journal">Journal</h2>
      <ChoiceToggle v-model="kind" label="Show" :choices="titles" />
    </div>
    <ol tabindex="0" aria-label="Journal, newest first">
      <li v-for="line in shown" :key="line.id" :class="line.category">
        <time class="figures" :datetime="line.at">{{ whenOf(line.at, session.zone, now) }}</time>
        <span
          >{{ line.title }} <span v-if="line.reason" class="soft">{{ line.reason }}</span></span
        >
      </li>
      <li v-if="!shown.length" class="soft none">Nothing of this kind yet.</li>
    </ol>
  </section>
</template>

<style scoped>
.panel-head {
  flex-wrap: wrap;
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
