<script setup lang="ts">
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import { funnelCopy } from '../../contract/funnels.ts'
import { pathOfName } from '../../core/pages/page.ts'
import { call } from '../api.ts'
import { useForm } from '../form.ts'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import QuickDialog from '../frame/QuickDialog.vue'

/** A copy of a funnel: whole, or another line through the same pages. */
const props = defineProps<{ id: number; name: string }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const name = `${props.name.slice(0, 100)} (copy)`
const form = useForm(funnelCopy, { name, path: pathOfName(name), whole: true, tags: 'shared' })

async function copy(): Promise<void> {
  let made = 0
  const through = await form.submit(async (body) => {
    const path = body.whole ? body.path : null
    made = (await call(api.funnels.copy, { params: { id: props.id }, body: { ...body, path } })).id
  })
  if (!through) return
  emit('close')
  await router.push(`/funnels/${made}`)
}
</script>

<template>
  <QuickDialog
    :model-value="true"
    title="Copy this funnel"
    submit-label="Copy"
    :problem="form.problem"
    :busy="form.busy"
    @update:model-value="$emit('close')"
    @submit="copy"
  >
    <v-text-field v-bind="form.field('name')" label="Name" autofocus />
    <ChoiceToggle
      :model-value="form.values.whole ? 'whole' : 'line'"
      label="What is copied"
      :choices="{ whole: 'All of it', line: 'The line only' }"
      @update:model-value="(what: string) => (form.values.whole = what === 'whole')"
    />
    <template v-if="form.values.whole">
      <p class="soft">
        Its pages, forms, emails and follow-ups are copied as drafts, wired to each other. Pictures, files and
        topics are shared.
      </p>
      <v-text-field v-bind="form.field('path')" label="Path of its pages" prefix="/p/" />
      <ChoiceToggle
        v-model="form.values.tags"
        label="Tags"
        :choices="{ shared: 'The same tags', new: 'Tags of its own' }"
      />
    </template>
    <p v-else class="soft">Another line through the same pages. Nothing else is copied.</p>
  </QuickDialog>
</template>
