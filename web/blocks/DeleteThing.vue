<script setup lang="ts" generic="Row extends { id: number; name: string }">
import QuickDialog from '../frame/QuickDialog.vue'
import type { useDeleting } from './thingActions.ts'

/** Asks before a thing is deleted; what is lost by it stands inside. */
const props = defineProps<{
  /** As in “Delete page”. */
  word: string
  things: Pick<ReturnType<typeof useDeleting<Row>>, 'leaving' | 'refused' | 'busy' | 'remove'>
}>()
const { leaving, refused, busy, remove } = props.things
</script>

<template>
  <QuickDialog
    :model-value="leaving !== null"
    :title="`Delete “${leaving?.name}”?`"
    :submit-label="`Delete ${word}`"
    destructive
    :problem="refused"
    :busy="busy"
    @update:model-value="leaving = null"
    @submit="remove"
  >
    <slot />
  </QuickDialog>
</template>
