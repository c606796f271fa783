<script setup lang="ts">
import * as api from '../../contract/api.ts'
import { funnelSettings, type FunnelView } from '../../contract/funnels.ts'
import { goal, goals } from '../../core/funnels/funnel.ts'
import { call } from '../api.ts'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'

/** What a funnel is called, what it is for, and by what it is found. */
const props = defineProps<{ funnel: FunnelView }>()
const emit = defineEmits<{ close: []; saved: [] }>()
const { name, goal: wanted, labels } = props.funnel
const form = useForm(funnelSettings, { name, goal: wanted, labels })
const goalItems = goal.options.map((value) => ({ value, title: goals[value] }))

async function save(): Promise<void> {
  const through = await form.submit((body) =>
    call(api.funnels.settings, { params: { id: props.funnel.id }, body }),
  )
  if (!through) return
  emit('saved')
  emit('close')
}
</script>

<template>
  <QuickDialog
    :model-value="true"
    title="Settings of this funnel"
    submit-label="Save"
    :problem="form.problem"
    :busy="form.busy"
    @update:model-value="$emit('close')"
    @submit="save"
  >
    <v-text-field v-bind="form.field('name')" label="Name" />
    <v-select v-bind="form.field('goal')" :items="goalItems" label="Goal" />
    <v-combobox v-bind="form.field('labels')" label="Labels" multiple chips closable-chips />
  </QuickDialog>
</template>
