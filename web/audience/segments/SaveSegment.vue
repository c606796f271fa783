<script setup lang="ts">
import { useRouter } from 'vue-router'
import * as api from '../../../contract/api.ts'
import { segmentEdit, type SegmentView } from '../../../contract/audience/segments.ts'
import { call } from '../../api.ts'
import { useForm } from '../../form.ts'
import QuickDialog from '../../frame/QuickDialog.vue'
import type { Group } from './subjects.ts'

/** Gives a condition a name, so that it can be used again. */
const props = defineProps<{ tree: Group; segment: SegmentView | null }>()
const open = defineModel<boolean>({ required: true })
const router = useRouter()

const named = segmentEdit.pick({ name: true })
const form = useForm(named, { name: props.segment?.name ?? '' })

async function save(as: 'new' | 'same'): Promise<void> {
  await form.submit(async ({ name }) => {
    const body = { name, tree: props.tree }
    let id = props.segment?.id ?? null
    if (as === 'same' && id !== null) await call(api.segments.edit, { params: { id }, body })
    else id = (await call(api.segments.create, { body })).id
    open.value = false
    await router.push(`/people?segment=${id}`)
  })
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Save as segment"
    :submit-label="segment ? 'Update segment' : 'Save segment'"
    :problem="form.problem"
    :busy="form.busy"
    @submit="save(segment ? 'same' : 'new')"
  >
    <v-text-field v-bind="form.field('name')" label="Name" autofocus />
    <template #more>
      <v-btn v-if="segment" variant="outlined" @click="save('new')">Save as new segment</v-btn>
    </template>
  </QuickDialog>
</template>
