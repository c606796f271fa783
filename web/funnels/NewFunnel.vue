<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import { funnelSettings } from '../../contract/funnels.ts'
import { goal, goals } from '../../core/funnels/funnel.ts'
import { call } from '../api.ts'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { newStationId } from './line.ts'

/** A new funnel: what it is for, what it is called, and the pages that stand on it already. */
const open = defineModel<boolean>({ required: true })
const router = useRouter()
const form = useForm(funnelSettings, { name: '', goal: 'list', labels: [] })
const goalItems = goal.options.map((value) => ({ value, title: goals[value] }))
const { data: pages } = useLoaded((signal) => call(api.pages.list, { signal }), [])
const chosen = ref<number[]>([])

async function create(): Promise<void> {
  let made = 0
  const through = await form.submit(async (body) => {
    const line = chosen.value.map((page) => ({ kind: 'page' as const, id: newStationId(), page }))
    made = (await call(api.funnels.create, { body: { ...body, line } })).id
  })
  if (through) await router.push(`/funnels/${made}`)
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="New funnel"
    submit-label="Make funnel"
    :problem="form.problem"
    :busy="form.busy"
    @submit="create"
  >
    <v-text-field v-bind="form.field('name')" label="Name" autofocus />
    <v-select v-bind="form.field('goal')" :items="goalItems" label="Goal" />
    <v-autocomplete
      v-model="chosen"
      :items="(pages ?? []).filter(({ state }) => state !== 'archived')"
      item-title="name"
      item-value="id"
      label="Its pages, in order (optional)"
      multiple
      chips
      closable-chips
    />
    <v-combobox v-bind="form.field('labels')" label="Labels (optional)" multiple chips closable-chips />
  </QuickDialog>
</template>
