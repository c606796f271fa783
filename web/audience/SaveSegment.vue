<script setup lang="ts">
import { ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { personId } from '../../contract/audience.ts'
import type { SegmentView } from '../../contract/segments.ts'
import { change } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import QuickDialog from '../frame/QuickDialog.vue'
import type { Group } from './subjects.ts'

/** Gives a condition a name, so that it can be used again. */
const props = defineProps<{ tree: Group; segment: SegmentView | null }>()
const open = defineModel<boolean>({ required: true })
const router = useRouter()

const name = ref('')
const { refused: problem, attempt } = useAttempts()
watch(open, () => {
  name.value = props.segment?.name ?? ''
  problem.value = null
})

async function save(as: 'new' | 'same'): Promise<void> {
  const path = as === 'same' && props.segment ? `/segments/${props.segment.id}` : '/segments'
  await attempt(async () => {
    const { id } = await change(path, { name: name.value, tree: props.tree }, personId)
    open.value = false
    await router.push(`/people?segment=${id}`)
  })
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Save as segment"
    :does="segment ? 'Change the segment' : 'Save the segment'"
    :problem="problem"
    :ready="name.trim() !== ''"
    @done="save(segment ? 'same' : 'new')"
  >
    <label class="field">Name <input v-model="name" class="plain" maxlength="80" /></label>
    <template #more>
      <v-btn v-if="segment" variant="outlined" @click="save('new')">Save as another</v-btn>
    </template>
  </QuickDialog>
</template>
