<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, onMounted, ref } from 'vue'
import { contactList, peopleCount } from '../../../contract/audience/people.ts'
import { sampleView, whyView, type WhyView } from '../../../contract/audience/segments.ts'
import { ApiProblem, find } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import { useLoaded } from '../../loading.ts'
import { peopleOf } from '../../wording.ts'
import ConditionGroup from './ConditionGroup.vue'
import type { Group } from './subjects.ts'
import { useVocabulary } from './vocabulary.ts'

/** A condition being written: how many are meant, ten of them, and why somebody is or is not. */
const tree = defineModel<Group>({ required: true })
defineEmits<{ save: [] }>()

const vocabulary = useVocabulary()
onMounted(() => void vocabulary.reload())

const settled = refDebounced(tree, 250)
const { data: count, problem } = useLoaded(
  (signal) => find('/people/count', { tree: settled.value }, peopleCount, signal),
  ['audience'],
  () => settled.value,
)
const { data: sample } = useLoaded(
  (signal) => find('/people/sample', { tree: settled.value }, sampleView, signal),
  [],
  () => settled.value,
)

const why = ref<(WhyView & { name: string }) | null>(null)
const { refused, attempt } = useAttempts()
const asked = ref('')

async function explain(contact: number, name: string): Promise<void> {
  why.value = { name, ...(await find('/people/why', { tree: tree.value, contact }, whyView)) }
}

/** Anybody else, found by their address. */
async function explainTyped(): Promise<void> {
  const { rows } = await find('/people/find', { search: asked.value, size: 1 }, contactList)
  const [person] = rows
  if (!person)
    throw new ApiProblem({
      status: 404,
      title: 'Nobody is found by that',
      detail: 'Type a part of a name or address.',
    })
  await explain(person.id, person.name || person.address)
}

const verdict = computed(() =>
  why.value === null
    ? ''
    : why.value.holds === null
      ? 'cannot be told'
      : why.value.holds
        ? 'is meant'
        : 'is not meant',
)
</script>

<template>
  <section class="builder" aria-label="Who is meant">
    <div class="sentence">
      <ConditionGroup v-model="tree" :depth="0" />
    </div>
    <div class="found">
      <p class="count" aria-live="polite">
        <strong v-if="problem" class="fault">{{ problem.title }}</strong>
        <template v-else-if="count"
          ><strong class="figures">{{ peopleOf(count.people) }}</strong></template
        >
        <span v-else class="soft">counting…</span>
        <button type="button" class="quiet" @click="$emit('save')">Save as segment</button>
      </p>
      <p v-if="problem" class="soft">{{ problem.detail }}</p>
      <ul v-if="sample?.rows.length" class="sample" aria-label="Ten of them">
        <li v-for="row in sample.rows" :key="row.id">
          <button
            type="button"
            class="quiet"
            @click="attempt(() => explain(row.id, row.name || row.address))"
          >
            {{ row.name || row.address }}
          </button>
        </li>
      </ul>
      <form class="why" @submit.prevent="attempt(explainTyped)">
        <label>Why is <input v-model="asked" class="plain" placeholder="name or address" /></label>
        <button type="submit" class="quiet">in, or not?</button>
      </form>
      <ProblemNote :problem="refused" />
      <p v-if="why" class="verdict" role="status">
        <strong>{{ why.name }} {{ verdict }}</strong
        >: {{ why.reason }}
      </p>
    </div>
  </section>
</template>

<style scoped>
.builder {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 340px;
  gap: 24px;
  padding: 16px;
  border-bottom: 1px solid var(--rule);
}

.found {
  border-left: 1px solid var(--rule);
  padding-left: 20px;
}

.count {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 12px;
  margin-bottom: 4px;
  font-size: 18px;
  line-height: 24px;
}

.sample {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0 6px;
}

.why {
  display: flex;
  align-items: center;
  gap: 4px;
}

.why .plain {
  width: 150px;
}

.verdict {
  margin: 8px 0 0;
  border-left: 3px solid var(--petrol);
  padding-left: 8px;
}

@media (max-width: 900px) {
  .builder {
    grid-template-columns: minmax(0, 1fr);
  }

  .found {
    border-left: 0;
    padding-left: 0;
  }
}
</style>
