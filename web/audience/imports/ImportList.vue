<script setup lang="ts">
import { ref, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import { importList, importMade } from '../../../contract/audience/imports.ts'
import { queryOf, read, send } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import { useLoaded } from '../../loading.ts'
import { useNowIso } from '../../now.ts'
import { countOf, whenOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'
import ImportState from './ImportState.vue'
import PeopleTabs from '../PeopleTabs.vue'

const session = useSession()
const router = useRouter()
const { data, problem } = useLoaded((signal) => read('/imports', importList, signal), ['audience', 'work'])
const now = useNowIso()

const chooser = useTemplateRef<HTMLInputElement>('chooser')
const share = ref<number | null>(null)
const { refused, attempt } = useAttempts()

async function upload(file: File | undefined): Promise<void> {
  if (!file) return
  share.value = 0
  const path = `/imports${queryOf({ name: file.name })}`
  await attempt(async () => {
    const { id } = await send(path, file, importMade, (done) => (share.value = done))
    await router.push(`/people/imports/${id}`)
  })
  share.value = null
  if (chooser.value) chooser.value.value = ''
}

const chosen = (event: Event): File | undefined => (event.target as HTMLInputElement).files?.[0]
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Imports</h1>
      <PeopleTabs />
    </div>
    <ProblemNote :problem="problem ?? refused" />
    <section
      class="panel drop"
      aria-label="Import a file"
      @dragover.prevent
      @drop.prevent="upload($event.dataTransfer?.files[0])"
    >
      <div>
        <h2>Bring people in from a CSV file</h2>
        <p class="soft">
          Any usual kind: commas, semicolons or tabs, UTF-8, UTF-16 or Windows-1252, up to 2 GB. Nothing is
          written before you have seen what would happen, and an import can be taken back.
        </p>
      </div>
      <p v-if="share !== null" role="status">
        <progress :value="share" aria-label="Upload" /> {{ Math.round(share * 100) }} % is there
      </p>
      <label v-else class="choose">
        <input ref="chooser" type="file" accept=".csv,.txt,.tsv,text/csv" @change="upload(chosen($event))" />
        Choose a file, or drop it here
      </label>
    </section>
    <div v-if="data?.length" class="panel">
      <table class="list">
        <thead>
          <tr>
            <th>File</th>
            <th>When</th>
            <th>State</th>
            <th class="number">New</th>
            <th class="number">Changed</th>
            <th class="number">Not usable</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in data" :key="row.id">
            <td>
              <router-link :to="`/people/imports/${row.id}`">{{ row.fileName }}</router-link>
            </td>
            <td class="figures">{{ whenOf(row.createdAt, session.zone, now) }}</td>
            <td><ImportState :state="row.state" /></td>
            <td class="number">{{ row.counts ? countOf(row.counts.added) : '' }}</td>
            <td class="number">{{ row.counts ? countOf(row.counts.changed) : '' }}</td>
            <td class="number">{{ row.counts ? countOf(row.counts.invalid) : '' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.drop {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 16px 32px;
  padding: 20px;
  margin-bottom: 20px;
  border-style: dashed;
  border-color: var(--ink-soft);
}

.drop h2 {
  padding: 0;
  border: 0;
}

.drop p {
  margin: 4px 0 0;
  max-width: 70ch;
}

.choose {
  background: var(--signal);
  color: #fff;
  font-weight: 600;
  border-radius: 4px;
  padding: 8px 16px;
  cursor: pointer;
}

.choose:focus-within {
  outline: 2px solid var(--petrol);
  outline-offset: 2px;
}

.choose input {
  position: absolute;
  opacity: 0;
  width: 1px;
}
</style>
