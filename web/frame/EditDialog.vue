<script setup lang="ts">
import type { ProblemDetails } from '../../contract/problems.ts'
import QuickDialog from './QuickDialog.vue'

/** The small form in which a thing of a list is made or edited, as `useEditDialog` keeps it. */
defineProps<{
  /** What the thing is called, such as `coupon`. */
  word: string
  dialog: {
    open: boolean
    id: number | null
    form: { problem: ProblemDetails | null; busy: boolean }
    close: () => void
    save: () => Promise<void>
  }
}>()
</script>

<template>
  <QuickDialog
    :model-value="dialog.open"
    :title="dialog.id === null ? `New ${word}` : `Edit ${word}`"
    :submit-label="dialog.id === null ? `Create ${word}` : 'Save'"
    :problem="dialog.form.problem"
    :busy="dialog.form.busy"
    @update:model-value="dialog.close()"
    @submit="dialog.save"
  >
    <slot />
  </QuickDialog>
</template>
