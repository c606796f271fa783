<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { z } from 'zod'
import * as api from '../../contract/api.ts'
import type { PageRow } from '../../contract/pages.ts'
import { offeredPurposes, pagePath, pagePurpose, pathOfName, purposes } from '../../core/pages/page.ts'
import { simpleForm } from '../../core/capture/form.ts'
import { contentFrom, hasForm, startingPointsFor } from '../../core/pages/startingPoints.ts'
import { call } from '../api.ts'
import { newPartId } from '../blocks/editing.ts'
import { useSite } from '../blocks/site.ts'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'

/** A new page: its purpose, a starting point or another page, a name and an address. */
defineProps<{ pages: readonly PageRow[] }>()
const open = defineModel<boolean>({ required: true })
const router = useRouter()
const library = useSite()
onMounted(() => library.reload())

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

const purposeItems = offeredPurposes.map((value) => ({ value, title: purposes[value].name }))

/** The form that stands on it: one of the Library, or a new one that visitors can use at once. */
const chosenForm = ref<number | null>(null)
const forms = computed(() => [
  { value: null, title: 'A new one: first name, email address, consent' },
  ...(library.site?.forms ?? [])
    .filter(({ live }) => live)
    .map(({ id, name }) => ({ value: id, title: name })),
])
const asksForForm = computed(() => {
  const point = points.value.find(({ id }) => id === form.values.point)
  return point !== undefined && hasForm(point)
})
const formFor = async (name: string): Promise<number> =>
  chosenForm.value ??
  (await call(api.forms.create, { body: { name, content: simpleForm(), publish: true } })).id

async function create(): Promise<void> {
  let page = 0
  const through = await form.submit(async ({ name, path, purpose, point }) => {
    const from = points.value.find(({ id }) => id === point) ?? points.value[0]
    if (!from) return
    const made = hasForm(from) ? await formFor(name) : null
    const content = contentFrom(from, purpose, name, newPartId, made)
    page = (await call(api.pages.create, { body: { name, path, purpose, content } })).id
  })
  if (through) await router.push(`/library/pages/${page}`)
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
    <v-select v-if="asksForForm" v-model="chosenForm" label="Form" :items="forms" />
    <v-text-field v-bind="form.field('name')" label="Name" autofocus />
    <v-text-field
      v-bind="form.field('path')"
      label="Address"
      prefix="/p/"
      @update:focused="(focused: boolean) => focused && (ownPath = true)"
    />
  </QuickDialog>
</template>
