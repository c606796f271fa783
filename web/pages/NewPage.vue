<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { z } from 'zod'
import { api } from '../../contract/api.ts'
import type { PageRow } from '../../contract/pages.ts'
import { pagePath, pagePurpose, pathOfName, purposes } from '../../core/pages/page.ts'
import { contentFrom, startingPointsFor } from '../../core/pages/startingPoints.ts'
import { call } from '../api.ts'
import { newPartId } from '../blocks/editing.ts'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'

/** A new page: its purpose, a starting point or another page, a name and an address. */
defineProps<{ pages: readonly PageRow[] }>()
const open = defineModel<boolean>({ required: true })
const router = useRouter()

const shape = z.object({
  name: z.string().trim().min(1, 'Give the page a name').max(120),
  path: pagePath,
  purpose: pagePurpose,
  point: z.string(),
})
const form = useForm(shape, { name: '', path: '', purpose: 'landing', point: 'landing-promise' })
const points = computed(() => startingPointsFor(form.values.purpose))
watch(points, ([first]) => (form.values.point = first?.id ?? ''))

/** The address follows the name until somebody writes it. */
const ownPath = ref(false)
watch(
  () => form.values.name,
  (name) => {
    if (!ownPath.value) form.values.path = name ? pathOfName(name) : ''
  },
)

const purposeItems = pagePurpose.options.map((value) => ({ value, title: purposes[value].name }))

async function create(): Promise<void> {
  let made = 0
  const through = await form.submit(async ({ name, path, purpose, point }) => {
    const from = points.value.find(({ id }) => id === point) ?? points.value[0]
    if (!from) return
    const content = contentFrom(from, purpose, name, newPartId)
    made = (await call(api.pages.create, { body: { name, path, purpose, content } })).id
  })
  if (through) await router.push(`/library/pages/${made}`)
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="New page"
    submit-label="Make page"
    :problem="form.problem"
    :busy="form.busy"
    :width="560"
    @submit="create"
  >
    <v-select v-bind="form.field('purpose')" label="Purpose" :items="purposeItems" />
    <v-radio-group v-bind="form.field('point')" label="Begin from">
      <v-radio v-for="point in points" :key="point.id" :value="point.id">
        <template #label>
          <span>
            <strong>{{ point.name }}</strong><br />{{ point.words }}
          </span>
        </template>
      </v-radio>
    </v-radio-group>
    <v-text-field v-bind="form.field('name')" label="Name" autofocus />
    <v-text-field
      v-bind="form.field('path')"
      label="Address"
      prefix="/p/"
      @update:focused="(focused: boolean) => focused && (ownPath = true)"
    />
  </QuickDialog>
</template>
