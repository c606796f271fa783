<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import { newFunnel } from '../../contract/funnels.ts'
import { goal, goals } from '../../core/funnels/funnel.ts'
import { startersFor } from '../../core/funnels/starters.ts'
import { pathOfName } from '../../core/pages/page.ts'
import { call } from '../api.ts'
import { useForm } from '../form.ts'
import DayInput from '../frame/DayInput.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { newStationId } from './line.ts'

/** A new funnel: what it is for, what it begins from, and what it is called. */
const open = defineModel<boolean>({ required: true })
const router = useRouter()
const form = useForm(newFunnel, {
  name: '',
  goal: 'list',
  labels: [],
  starter: 'free-file',
  path: '',
  currency: null,
  opens: null,
})
const starters = computed(() => startersFor(form.values.goal))
watch(starters, ([first]) => (form.values.starter = first?.id ?? 'nothing'))
const starter = computed(() => starters.value.find(({ id }) => id === form.values.starter))
const sells = computed(() => ['sell', 'waitingList', 'course'].includes(form.values.goal))
const goalItems = goal.options.map((value) => ({ value, title: goals[value] }))

/** The path follows the name until somebody writes it. */
const ownPath = ref(false)
watch(
  () => form.values.name,
  (name) => {
    if (!ownPath.value) form.values.path = name ? pathOfName(name) : ''
  },
)

/** Pages that are there already, for a funnel that begins with nothing. */
const chosen = ref<number[]>([])
const { data: pages } = useLoaded((signal) => call(api.pages.list, { signal }), [])

async function create(): Promise<void> {
  let made = 0
  const through = await form.submit(async (body) => {
    const line =
      body.starter === 'nothing'
        ? chosen.value.map((page) => ({ kind: 'page' as const, id: newStationId(), page }))
        : []
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
    :width="860"
    @submit="create"
  >
    <div class="columns">
      <v-radio-group v-bind="form.field('goal')" label="Goal" hide-details>
        <v-radio v-for="each in goalItems" :key="each.value" :value="each.value" :label="each.title" />
      </v-radio-group>
      <v-radio-group v-bind="form.field('starter')" label="Begin from" hide-details>
        <v-radio v-for="each in starters" :key="each.id" :value="each.id">
          <template #label>
            <span>
              <strong>{{ each.name }}</strong><br /><span class="soft">{{ each.words }}</span>
            </span>
          </template>
        </v-radio>
      </v-radio-group>
    </div>
    <div class="columns even">
      <v-text-field
        v-bind="form.field('name')"
        label="Name"
        hint="What it gives or sells: pages and emails are named after it"
        autofocus
      />
      <v-text-field
        v-bind="form.field('path')"
        label="Path of its pages"
        prefix="/p/"
        @update:focused="(focused: boolean) => focused && (ownPath = true)"
      />
      <v-combobox v-bind="form.field('labels')" label="Labels (optional)" multiple chips closable-chips />
      <v-text-field
        v-if="sells"
        v-bind="form.field('currency')"
        label="Currency (optional)"
        placeholder="EUR"
        maxlength="3"
        @update:model-value="(typed: string) => (form.values.currency = typed ? typed.toUpperCase() : null)"
      />
      <DayInput v-if="starter?.date" v-bind="form.field('opens')" :label="starter.date" />
    </div>
    <v-autocomplete
      v-if="form.values.starter === 'nothing'"
      v-model="chosen"
      :items="(pages ?? []).filter(({ state }) => state !== 'archived')"
      item-title="name"
      item-value="id"
      label="Its pages, in order (optional)"
      multiple
      chips
      closable-chips
    />
  </QuickDialog>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 220px minmax(0, 1fr);
  gap: 12px 20px;
  align-items: start;
}

.columns :deep(.v-selection-control) {
  align-items: flex-start;
  margin-bottom: 4px;
}

.even {
  grid-template-columns: repeat(2, minmax(0, 1fr));
}

@media (max-width: 700px) {
  .columns,
  .even {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
