<script setup lang="ts">
import { mdiCheckboxBlankCircleOutline, mdiCheckCircle } from '@mdi/js'
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import { checklist } from '../../core/funnels/checklist.ts'
import { call, upload } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'

/** What is left to do until a funnel is live; it ticks itself. */
const props = defineProps<{ id: number; name: string; errors: number }>()
const params = { id: props.id }
const {
  data: progress,
  problem,
  reload,
} = useLoaded(
  (signal) => call(api.funnels.progress, { params, signal }),
  ['funnels', 'pages', 'followups', 'email', 'workspace'],
)
const data = computed(() => progress.value && checklist(props.id, progress.value, props.errors))
const done = computed(() => data.value?.filter((each) => each.done).length ?? 0)
const { data: files } = useLoaded((signal) => call(api.files.files, { signal }), ['pages'])
/** Without the name of the funnel, which stands above. */
const wordsOf = (words: string): string => words.replace(`“${props.name}: `, '“')
const choosing = ref(false)
const { refused, busy, attempt } = useAttempts()

const give = (file: number): Promise<boolean> =>
  attempt(async () => {
    await call(api.funnels.giveFile, { params, body: { file } })
    choosing.value = false
    await reload()
  })
async function take(chosen: File | File[] | null): Promise<void> {
  const [first] = [chosen].flat()
  if (!first) return
  let made = 0
  const through = await attempt(async () => {
    made = (await upload(api.files.uploadFile, { name: first.name }, first, () => undefined)).id
  })
  if (through) await give(made)
}
</script>

<template>
  <section class="left" aria-labelledby="left-to-do">
    <h2 id="left-to-do">What is left to do</h2>
    <ProblemNote :problem="problem ?? refused" />
    <template v-if="data">
      <p class="soft">{{ done }} of {{ data.length }} done</p>
      <v-progress-linear
        :model-value="done"
        :max="data.length"
        color="primary"
        height="8"
        aria-label="Done of what is to do"
      />
      <ol>
        <li v-for="item in data" :key="item.key" :class="{ done: item.done }">
          <v-icon
            :icon="item.done ? mdiCheckCircle : mdiCheckboxBlankCircleOutline"
            size="18"
            :color="item.done ? 'primary' : undefined"
            :aria-label="item.done ? 'done' : 'to do'"
          />
          <div>
            <router-link v-if="item.to && !item.done" :to="item.to">{{ wordsOf(item.words) }}</router-link>
            <a
              v-else-if="item.key === 'file' && !item.done"
              href="#"
              role="button"
              @click.prevent="choosing = !choosing"
              >{{ item.words }}</a
            >
            <span v-else>{{ wordsOf(item.words) }}</span>
            <span v-if="!item.optional && !item.done" class="needed">needed</span>
            <div v-if="item.hint" class="soft">{{ item.hint }}</div>
            <div v-if="item.key === 'file' && choosing && !item.done" class="file">
              <v-file-input label="Upload a file" :loading="busy" @update:model-value="take" />
              <v-autocomplete
                v-if="files?.length"
                label="Or one of the Library"
                :items="files"
                item-title="name"
                item-value="id"
                @update:model-value="(file: number | null) => file !== null && give(file)"
              />
            </div>
          </div>
        </li>
      </ol>
    </template>
  </section>
</template>

<style scoped>
.left {
  padding: 16px;
}

ol {
  display: grid;
  gap: 8px;
  margin: 12px 0 0;
  padding: 0;
  list-style: none;
}

li {
  display: grid;
  grid-template-columns: 20px minmax(0, 1fr);
  gap: 8px;
  align-items: start;
}

.done {
  color: var(--ink-soft);
}

.needed {
  margin-left: 6px;
  padding: 0 5px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  color: var(--ink-soft);
  font-size: 0.8em;
}

.file {
  display: grid;
  gap: 8px;
  margin-top: 8px;
}
</style>
