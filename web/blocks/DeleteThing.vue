<script setup lang="ts" generic="Row extends Thing">
import QuickDialog from '../frame/QuickDialog.vue'
import type { Thing, useThingActions } from './thingActions.ts'

/** Asks before a thing of the Library is deleted; what is lost by it stands inside. */
const props = defineProps<{
  /** As in “Delete page”. */
  word: string
  things: ReturnType<typeof useThingActions<Row>>
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
