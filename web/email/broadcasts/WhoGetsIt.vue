<script setup lang="ts">
import { ref } from 'vue'
import * as api from '../../../contract/api.ts'
import type { BroadcastForecast, BroadcastRequestInput, SampleReader } from '../../../contract/broadcasts.ts'
import { call } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import { countOf, peopleOf } from '../../wording.ts'
import EmailPreview from '../EmailPreview.vue'
import LeftOutList from './LeftOutList.vue'

/** Who gets an email before it is sent, who does not and why, and how some of them will read it. */
const props = defineProps<{ forecast: BroadcastForecast | null; request: BroadcastRequestInput | null }>()

const sample = ref<SampleReader[] | null>(null)
const reading = ref<SampleReader | null>(null)
const { refused, busy, attempt } = useAttempts()

async function draw(): Promise<void> {
  const body = props.request
  if (!body) return
  await attempt(async () => {
    sample.value = await call(api.broadcasts.sample, { body })
  })
}
</script>

<template>
  <aside class="panel inspector" aria-label="Who gets it">
    <h2>Who gets it</h2>
    <div class="body">
      <p v-if="!request" class="soft">Choose an email, and you see here who gets it.</p>
      <p v-else-if="!forecast" class="soft">Counting…</p>
      <div v-else role="status">
        <p>
          <strong class="figures">{{ peopleOf(forecast.gets) }}</strong> would get it now{{
            forecast.leftOut.length ? '. Left out:' : '.'
          }}
        </p>
        <LeftOutList :left-out="forecast.leftOut" />
        <p v-if="forecast.soon > 0" class="advice">
          {{ countOf(forecast.soon) }} of them may get a follow-up email within an hour of it.
        </p>
        <p v-if="forecast.past > 0" class="advice">
          Where {{ peopleOf(forecast.past) }} of them are, that time has passed: they get it at once.
        </p>
      </div>
      <template v-if="forecast && forecast.gets > 0">
        <v-btn variant="outlined" size="small" :loading="busy" @click="draw">
          {{ sample ? 'Show others' : 'Show ten of them' }}
        </v-btn>
        <ProblemNote :problem="refused" />
        <ul v-if="sample" class="sample">
          <li v-for="each in sample" :key="each.id">
            <button type="button" @click="reading = each">
              <span>{{ each.name || each.address }}</span>
              <span class="soft">{{ each.subject }}</span>
            </button>
          </li>
        </ul>
      </template>
    </div>
    <EmailPreview
      v-if="reading && request"
      :id="request.email"
      :model-value="true"
      :reader="reading"
      published
      @update:model-value="reading = null"
    />
  </aside>
</template>

<style scoped>
.inspector {
  position: sticky;
  top: 16px;
}

.body {
  display: grid;
  gap: 12px;
  justify-items: start;
  padding: 12px 16px 16px;
}

p {
  margin: 0;
}

.advice {
  margin-top: 8px;
}

.sample {
  width: 100%;
  margin: 0;
  padding: 0;
  list-style: none;
}

.sample button {
  display: grid;
  width: 100%;
  padding: 6px 0;
  border: 0;
  border-top: 1px solid var(--rule);
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
</style>
