<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../../contract/api.ts'
import type { ImportRow } from '../../../contract/audience/imports.ts'
import { call, upload } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import type { Column } from '../../frame/columns.ts'
import DataScreen from '../../frame/DataScreen.vue'
import StationTabs from '../../frame/StationTabs.vue'
import { useLoaded } from '../../loading.ts'
import { useNowIso } from '../../now.ts'
import { countOf, whenOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'
import ImportState from './ImportState.vue'

const session = useSession()
const router = useRouter()
const { data, problem } = useLoaded((signal) => call(api.imports.list, { signal }), ['audience', 'work'])
const now = useNowIso()

const share = ref<number | null>(null)
const { refused, attempt } = useAttempts()

async function take(chosen: File | File[] | null): Promise<void> {
  const file = Array.isArray(chosen) ? chosen[0] : chosen
  if (!file) return
  share.value = 0
  await attempt(async () => {
    const { id } = await upload(api.imports.upload, { name: file.name }, file, (done) => {
      share.value = done
    })
    await router.push(`/people/imports/${id}`)
  })
  share.value = null
}

const columns: Column<ImportRow>[] = [
  { title: 'File', key: 'fileName' },
  { title: 'Uploaded', key: 'createdAt', nowrap: true },
  { title: 'State', key: 'state' },
  { title: 'New', key: 'added', align: 'end', value: ({ counts }) => counts?.added },
  { title: 'Updated', key: 'changed', align: 'end', value: ({ counts }) => counts?.changed },
  { title: 'Invalid', key: 'invalid', align: 'end', value: ({ counts }) => counts?.invalid },
]
</script>

<template>
  <DataScreen title="Imports" :columns="columns" :rows="data" :problem="problem ?? refused">
    <template #tabs><StationTabs of="People" /></template>
    <template #above>
      <section class="upload" aria-label="Import a file">
        <v-progress-linear
          v-if="share !== null"
          :model-value="share * 100"
          height="24"
          aria-label="Upload progress"
        >
          {{ Math.round(share * 100) }} % uploaded
        </v-progress-linear>
        <v-file-upload
          v-else
          title="Choose a CSV file, or drop it here"
          browse-text="Choose file"
          accept=".csv,.txt,.tsv,text/csv"
          :clearable="false"
          aria-label="File to import"
          @update:model-value="take"
        />
        <p class="soft">
          Commas, semicolons or tabs; UTF-8, UTF-16 or Windows-1252; up to 2 GB. Nothing is imported before
          you have seen a preview, and an import can be undone.
        </p>
      </section>
    </template>
    <template #[`item.fileName`]="{ item }">
      <router-link :to="`/people/imports/${item.id}`">{{ item.fileName }}</router-link>
    </template>
    <template #[`item.createdAt`]="{ item }">
      <span class="figures">{{ whenOf(item.createdAt, session.zone, now) }}</span>
    </template>
    <template #[`item.state`]="{ item }"><ImportState :state="item.state" /></template>
    <template
      v-for="part in ['added', 'changed', 'invalid'] as const"
      :key="part"
      #[`item.${part}`]="{ item }"
    >
      <span class="figures">{{ item.counts ? countOf(item.counts[part]) : '' }}</span>
    </template>
    <template #empty>No imports yet.</template>
  </DataScreen>
</template>

<style scoped>
.upload {
  margin-bottom: 20px;
}

.upload p {
  margin: 8px 0 0;
}
</style>
