<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import { upload } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import QuickDialog from '../frame/QuickDialog.vue'

/** Brings in a funnel that was exported, here or elsewhere. */
const open = defineModel<boolean>({ required: true })
const router = useRouter()
const file = ref<File | null>(null)
const name = ref('')
const tags = ref<'shared' | 'new'>('shared')
const missing = ref('')
const { refused, busy, attempt } = useAttempts()

async function bring(): Promise<void> {
  const chosen = file.value
  if (!chosen) {
    missing.value = 'Choose a file'
    return
  }
  let made = 0
  const through = await attempt(async () => {
    const query = { tags: tags.value, ...(name.value.trim() && { name: name.value.trim() }) }
    made = (await upload(api.funnels.import, query, chosen, () => undefined)).id
  })
  if (through) await router.push(`/funnels/${made}`)
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Import a funnel"
    submit-label="Import"
    :problem="refused"
    :busy="busy"
    @submit="bring"
  >
    <v-file-input
      v-model="file"
      label="Funnel file (.json)"
      accept=".json,application/json"
      :error-messages="missing"
      @update:model-value="missing = ''"
    />
    <v-text-field v-model="name" label="Name (as in the file when empty)" />
    <ChoiceToggle
      v-model="tags"
      label="Tags"
      :choices="{ shared: 'Tags of the same name', new: 'Tags of its own' }"
    />
    <p class="soft">It comes in as drafts. Nothing that is here is overwritten.</p>
  </QuickDialog>
</template>
