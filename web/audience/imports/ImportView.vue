<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import * as api from '../../../contract/api.ts'
import { importChoices } from '../../../contract/audience/imports.ts'
import { call } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import { useForm } from '../../form.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import StationTabs from '../../frame/StationTabs.vue'
import { useLoaded } from '../../loading.ts'
import { countOf, peopleOf } from '../../wording.ts'
import ImportColumns from './ImportColumns.vue'
import ImportCountsTable from './ImportCountsTable.vue'
import ImportOptions from './ImportOptions.vue'
import ImportState from './ImportState.vue'
import ImportSummary from './ImportSummary.vue'

/** One import from its file to its end: columns and options, what would happen, what did. */
const props = defineProps<{ id: number }>()
const params = computed(() => ({ id: props.id }))
const { data, problem } = useLoaded(
  (signal) => call(api.imports.view, { params: params.value, signal }),
  ['audience', 'work'],
  () => props.id,
)

const form = useForm(importChoices, {
  columns: [],
  existing: 'update',
  tags: [],
  topics: [],
  permission: 'notAsked',
  statement: '',
  startFollowups: false,
})
const filled = ref(false)
/** The choices of the last preview: others need another one. */
const previewed = ref('')
watch(data, (found) => {
  if (!found || filled.value) return
  form.reset(found.choices)
  filled.value = true
  if (found.state === 'checked') previewed.value = JSON.stringify(form.values)
})

const open = computed(() => data.value?.state === 'uploaded' || data.value?.state === 'checked')
const current = computed(
  () => data.value?.state === 'checked' && previewed.value === JSON.stringify(form.values),
)

const { refused, attempt } = useAttempts()
async function preview(): Promise<void> {
  const typed = JSON.stringify(form.values)
  const started = await form.submit((body) => call(api.imports.check, { params: params.value, body }))
  if (started) previewed.value = typed
}
const run = () => attempt(() => call(api.imports.run, { params: params.value }))
const undo = () => attempt(() => call(api.imports.undo, { params: params.value }))

/** What the run will do, as its button says. */
const runLabel = computed(() => {
  const { added = 0, changed = 0 } = data.value?.counts ?? {}
  const adding = `Add ${countOf(added)} new ${added === 1 ? 'person' : 'people'}`
  if (added === 0) return changed === 0 ? 'Finish: nobody changes' : `Update ${peopleOf(changed)}`
  return changed === 0 ? adding : `${adding} and update ${countOf(changed)}`
})
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Import</h1>
      <StationTabs of="People" />
    </div>
    <ProblemNote :problem="problem ?? refused ?? form.problem" />
    <template v-if="data && filled">
      <p class="file">
        <strong>{{ data.fileName }}</strong> <ImportState :state="data.state" />
        <span class="soft">
          {{ data.format.encoding.toUpperCase() }}, {{ countOf(Math.ceil(data.size / 1024)) }} kB
        </span>
      </p>
      <ProblemNote
        v-if="data.work && (data.work.state === 'failed' || data.work.state === 'cancelled')"
        :problem="{
          status: 0,
          title: data.work.state === 'failed' ? 'The import failed' : 'Cancelled',
          detail: data.work.said,
        }"
      />
      <section v-if="data.counts" class="panel found" aria-labelledby="found">
        <h2 id="found">{{ data.state === 'checked' ? 'Preview' : 'Result' }}</h2>
        <ImportCountsTable :id="data.id" :counts="data.counts" />
        <div v-if="data.state === 'checked'" class="pad buttons">
          <v-btn color="secondary" :disabled="!current" @click="run">{{ runLabel }}</v-btn>
          <span v-if="!current" class="soft">Something has changed: preview again first.</span>
        </div>
        <div v-if="data.state === 'done'" class="pad buttons">
          <v-btn color="error" variant="outlined" @click="undo">Undo import</v-btn>
          <span class="soft">People who have done something since stay on the list.</span>
        </div>
      </section>
      <div class="desk">
        <section class="panel" aria-labelledby="columns">
          <h2 id="columns">Columns</h2>
          <p v-if="form.faults.columns" class="fault pad" role="alert">{{ form.faults.columns }}</p>
          <ImportColumns v-model="form.values.columns" :format="data.format" :disabled="!open" />
        </section>
        <section class="panel" aria-labelledby="options">
          <h2 id="options">Options</h2>
          <v-form v-if="open" class="pad options" novalidate @submit.prevent="preview">
            <ImportOptions :form="form" />
            <v-btn
              type="submit"
              :color="current ? undefined : 'secondary'"
              :variant="current ? 'outlined' : 'flat'"
              :loading="form.busy"
            >
              {{ current ? 'Preview again' : 'Preview' }}
            </v-btn>
          </v-form>
          <ImportSummary v-else class="pad" :choices="data.choices" />
        </section>
      </div>
    </template>
    <p v-else-if="!problem" class="soft">Loading…</p>
  </div>
</template>

<style scoped>
.file {
  display: flex;
  gap: 16px;
}

.found {
  margin-bottom: 20px;
}

.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 360px;
  gap: 20px;
  align-items: start;
  margin-bottom: 20px;
}

.pad {
  padding: 16px;
}

.options {
  display: grid;
  gap: 16px;
}

.buttons {
  display: flex;
  align-items: center;
  gap: 16px;
}

@media (max-width: 1000px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
