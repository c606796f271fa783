<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import * as api from '../../../contract/api.ts'
import type { WhyView } from '../../../contract/audience/segments.ts'
import { ApiProblem, call } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import { useLoaded } from '../../loading.ts'
import { peopleOf } from '../../wording.ts'
import ConditionGroup from './ConditionGroup.vue'
import { useFilledIn } from './filledIn.ts'
import type { Group } from './subjects.ts'
import { useVocabulary } from './vocabulary.ts'

/** A condition being written: how many are meant, ten of them, and why somebody is or is not. */
const tree = defineModel<Group>({ required: true })
defineEmits<{ save: [] }>()

const vocabulary = useVocabulary()
onMounted(() => void vocabulary.reload())

const { settled, unfinished } = useFilledIn(tree)
const { data: count, problem } = useLoaded(
  (signal) => call(api.people.count, { body: { tree: settled.value }, signal }),
  ['audience'],
  () => settled.value,
)
const { data: sample } = useLoaded(
  (signal) => call(api.segments.sample, { body: { tree: settled.value }, signal }),
  [],
  () => settled.value,
)

const why = ref<(WhyView & { name: string }) | null>(null)
const { refused, attempt } = useAttempts()
const typed = ref('')

async function explain(contact: number, name: string): Promise<void> {
  why.value = { name, ...(await call(api.segments.why, { body: { tree: tree.value, contact } })) }
}

/** Anybody else, found by their address. */
async function explainTyped(): Promise<void> {
  const { rows } = await call(api.people.find, { body: { search: typed.value, size: 1 } })
  const [person] = rows
  if (!person)
    throw new ApiProblem({
      status: 404,
      title: `No results for “${typed.value}”`,
      detail: 'Type a name or address, or the beginning of one.',
    })
  await explain(person.id, person.name || person.address)
}

const verdict = computed(() => {
  if (why.value === null) return ''
  if (why.value.holds === null) return 'cannot be decided'
  return why.value.holds ? 'matches' : 'does not match'
})
</script>

<template>
  <section class="builder" aria-label="Filter">
    <div>
      <ConditionGroup v-model="tree" :depth="0" />
    </div>
    <div class="found">
      <p class="count" aria-live="polite">
        <span v-if="unfinished" class="soft">Fill in every condition to count</span>
        <strong v-else-if="problem" class="fault">{{ problem.title }}</strong>
        <template v-else-if="count"
          ><strong class="figures">{{ peopleOf(count.people) }}</strong></template
        >
        <span v-else class="soft">Counting…</span>
        <v-btn
          size="small"
          variant="outlined"
          :disabled="!tree.of.length || unfinished"
          @click="$emit('save')"
        >
          Save as segment
        </v-btn>
      </p>
      <p v-if="problem && !unfinished" class="soft">{{ problem.detail }}</p>
      <div v-if="sample?.rows.length" class="sample" role="group" aria-label="Examples">
        <v-chip
          v-for="row in sample.rows"
          :key="row.id"
          tag="button"
          type="button"
          @click="attempt(() => explain(row.id, row.name || row.address))"
        >
          {{ row.name || row.address }}
        </v-chip>
      </div>
      <form @submit.prevent="attempt(explainTyped)">
        <v-text-field v-model="typed" label="Why does somebody match?" placeholder="Name or address">
          <template #append>
            <v-btn type="submit" variant="outlined">Explain</v-btn>
          </template>
        </v-text-field>
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
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin-bottom: 12px;
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
