<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { topicList } from '../../../contract/audience/describing.ts'
import { importChoices, importView, type ImportChoices } from '../../../contract/audience/imports.ts'
import { workStarted } from '../../../contract/work.ts'
import { change, read } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import { useLoaded } from '../../loading.ts'
import { countOf, peopleOf } from '../../wording.ts'
import ImportColumns from './ImportColumns.vue'
import ImportCountsTable from './ImportCountsTable.vue'
import ImportState from './ImportState.vue'
import PeopleTabs from '../PeopleTabs.vue'

/** One import from its file to its end: what the columns hold, what is to happen, what would happen, what did. */
const props = defineProps<{ id: number }>()
const { data, problem } = useLoaded(
  (signal) => read(`/imports/${props.id}`, importView, signal),
  ['audience', 'work'],
  () => props.id,
)
const { data: topics } = useLoaded((signal) => read('/topics', topicList, signal), [])

const choices = ref<ImportChoices | null>(null)
const tags = ref('')
/** What was tried out last: another wish needs another try. */
const tried = ref('')
watch(data, (found) => {
  if (!found || choices.value) return
  choices.value = structuredClone(found.choices)
  tags.value = found.choices.tags.join(', ')
  if (found.state === 'checked') tried.value = JSON.stringify(found.choices)
})

const wish = computed<ImportChoices | null>(
  () =>
    choices.value && {
      ...choices.value,
      tags: tags.value
        .split(',')
        .map((tag) => tag.trim())
        .filter(Boolean),
    },
)
const open = computed(() => data.value?.state === 'uploaded' || data.value?.state === 'checked')
const current = computed(() => data.value?.state === 'checked' && tried.value === JSON.stringify(wish.value))

const faults = ref<Record<string, string>>({})
const { refused, attempt } = useAttempts()

async function begin(what: 'check' | 'run' | 'undo'): Promise<void> {
  if (what === 'check') {
    const read = importChoices.safeParse(wish.value)
    faults.value = read.success
      ? {}
      : Object.fromEntries(read.error.issues.map((issue) => [String(issue.path[0]), issue.message]))
    if (!read.success) return
    tried.value = JSON.stringify(wish.value)
  }
  const body = what === 'check' ? wish.value : {}
  await attempt(() => change(`/imports/${props.id}/${what}`, body, workStarted))
}

/** What the run will do, as its button says. */
const deed = computed(() => {
  const { added = 0, changed = 0 } = data.value?.counts ?? {}
  const put = `Put ${countOf(added)} new ${added === 1 ? 'person' : 'people'} on the list`
  if (added === 0) return changed === 0 ? 'Finish: nobody is changed' : `Change ${peopleOf(changed)}`
  return changed === 0 ? put : `${put} and change ${countOf(changed)}`
})

const permissions = {
  agreed: 'They agreed to be written to',
  notAsked: 'Nobody has asked them: no marketing email',
  refused: 'They said no: never write to them again',
} satisfies Record<ImportChoices['permission'], string>

const existing = {
  update: 'take over what the file says',
  fillBlanks: 'fill in only what is blank',
  skip: 'leave them as they are',
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Import</h1>
      <PeopleTabs />
    </div>
    <ProblemNote :problem="problem ?? refused" />
    <template v-if="data && choices">
      <p class="what">
        <strong>{{ data.fileName }}</strong> <ImportState :state="data.state" />
        <span class="soft"
          >{{ data.format.encoding.toUpperCase() }}, {{ countOf(Math.ceil(data.size / 1024)) }} kB</span
        >
      </p>
      <ProblemNote
        v-if="data.work && (data.work.state === 'failed' || data.work.state === 'cancelled')"
        :problem="{
          status: 0,
          title: data.work.state === 'failed' ? 'It did not work' : 'Cancelled',
          detail: data.work.said,
        }"
      />
      <section v-if="data.counts" class="panel found" aria-labelledby="found">
        <h2 id="found">{{ data.state === 'checked' ? 'What would happen' : 'What happened' }}</h2>
        <ImportCountsTable :id="data.id" :counts="data.counts" />
        <div v-if="data.state === 'checked'" class="pad buttons">
          <v-btn color="secondary" :disabled="!current" @click="begin('run')">
            {{ deed }}
          </v-btn>
          <span v-if="!current" class="soft">You have changed something: try it out again first.</span>
        </div>
        <div v-if="data.state === 'done'" class="pad buttons">
          <v-btn color="error" variant="outlined" @click="begin('undo')">Take this import back</v-btn>
          <span class="soft">Who has done something since stays on the list.</span>
        </div>
      </section>
      <div class="desk">
        <section class="panel" aria-labelledby="columns">
          <h2 id="columns">What the columns hold</h2>
          <ImportColumns v-model="choices.columns" :format="data.format" :disabled="!open" />
          <p v-if="faults.columns" class="fault pad">{{ faults.columns }}</p>
        </section>
        <section class="panel side" aria-labelledby="wish">
          <h2 id="wish">{{ open ? 'What is to happen' : 'What was wished' }}</h2>
          <fieldset class="pad" :disabled="!open">
            <label class="field">
              Who is on the list already
              <select v-model="choices.existing" class="plain">
                <option v-for="(title, value) in existing" :key="value" :value="value">{{ title }}</option>
              </select>
              <span v-if="faults.existing" class="fault">{{ faults.existing }}</span>
            </label>
            <label class="field"
              >Tags to add, with commas between <input v-model="tags" class="plain"
            /></label>
            <label v-if="topics?.length && choices.permission === 'agreed'" class="field">
              Topics they agreed to
              <select v-model="choices.topics" class="plain" multiple size="3">
                <option v-for="topic in topics" :key="topic.id" :value="topic.id">{{ topic.name }}</option>
              </select>
            </label>
            <div class="consent" role="radiogroup" aria-label="What they said to being written to">
              <label v-for="(title, value) in permissions" :key="value">
                <input v-model="choices.permission" class="plain" type="radio" :value="value" name="said" />
                {{ title }}
              </label>
              <label v-if="choices.permission !== 'notAsked'" class="field">
                Where and how
                <textarea
                  v-model="choices.statement"
                  class="plain"
                  rows="2"
                  placeholder="Kept with each person"
                />
                <span v-if="faults.statement" class="fault">{{ faults.statement }}</span>
              </label>
            </div>
            <label v-if="choices.permission !== 'refused'">
              <input v-model="choices.startFollowups" class="plain" type="checkbox" /> Start the follow-ups
              that begin with these tags
            </label>
            <v-btn
              v-if="open"
              :color="current ? undefined : 'secondary'"
              :variant="current ? 'outlined' : 'flat'"
              @click="begin('check')"
            >
              {{ current ? 'Try it out again' : 'Try it out' }}
            </v-btn>
          </fieldset>
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.what {
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

fieldset {
  border: 0;
  margin: 0;
  display: grid;
  gap: 14px;
}

.consent {
  display: grid;
  gap: 6px;
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
