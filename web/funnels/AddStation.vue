<script setup lang="ts">
import { computed, ref } from 'vue'
import { z } from 'zod'
import * as api from '../../contract/api.ts'
import { webAddress } from '../../core/blocks/target.ts'
import { pagesOf, type Station } from '../../core/funnels/funnel.ts'
import { purposes } from '../../core/pages/page.ts'
import { call } from '../api.ts'
import { choice, useForm } from '../form.ts'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { newStationId } from './line.ts'

/** Puts a step into the line: one of the pages that are not on it yet, or an address elsewhere. */
const props = defineProps<{ taken: readonly Station[] }>()
const emit = defineEmits<{ add: [station: Station]; close: [] }>()
const what = ref<'page' | 'quiz' | 'junction' | 'outside'>('page')
const { data: pages } = useLoaded((signal) => call(api.pages.list, { signal }), ['pages'])
const offered = computed(() =>
  (pages.value ?? [])
    .filter(
      ({ id, state }) => state !== 'archived' && !props.taken.some((each) => pagesOf(each).includes(id)),
    )
    .map(({ id, name, purpose }) => ({
      value: id,
      title: name,
      props: { subtitle: purposes[purpose].name },
    })),
)
const { data: junctions } = useLoaded((signal) => call(api.junctions.list, { signal }), ['pages'])
const offeredJunctions = computed(() =>
  (junctions.value ?? [])
    .filter(
      ({ id, state }) =>
        state !== 'archived' && !props.taken.some((each) => each.kind === 'junction' && each.junction === id),
    )
    .map(({ id, name }) => ({ value: id, title: name })),
)
const { data: quizzes } = useLoaded((signal) => call(api.quizzes.list, { signal }), ['pages'])
const offeredQuizzes = computed(() =>
  (quizzes.value ?? [])
    .filter(
      ({ id, state }) =>
        state !== 'archived' && !props.taken.some((each) => each.kind === 'quiz' && each.quiz === id),
    )
    .map(({ id, name }) => ({ value: id, title: name })),
)
const quizForm = useForm(z.object({ quiz: choice('Choose a quiz') }), { quiz: null })
const junctionForm = useForm(z.object({ junction: choice('Choose a junction') }), { junction: null })
const pageForm = useForm(z.object({ page: choice('Choose a page') }), { page: null })
const outsideForm = useForm(
  z.object({ name: z.string().trim().min(1, 'Give it a name').max(80), url: webAddress }),
  { name: '', url: '' },
)

async function add(): Promise<void> {
  const id = newStationId()
  const give = async (station: Station): Promise<void> => {
    emit('add', station)
    emit('close')
    await Promise.resolve()
  }
  if (what.value === 'page') await pageForm.submit(({ page }) => give({ kind: 'page', id, page }))
  else if (what.value === 'quiz') await quizForm.submit(({ quiz }) => give({ kind: 'quiz', id, quiz }))
  else if (what.value === 'junction')
    await junctionForm.submit(({ junction }) => give({ kind: 'junction', id, junction }))
  else await outsideForm.submit((typed) => give({ kind: 'outside', id, ...typed }))
}
</script>

<template>
  <QuickDialog
    :model-value="true"
    title="Add a step"
    submit-label="Add"
    @update:model-value="$emit('close')"
    @submit="add"
  >
    <ChoiceToggle
      v-model="what"
      label="What it is"
      :choices="{
        page: 'One of your pages',
        quiz: 'A quiz',
        junction: 'A junction',
        outside: 'An address elsewhere',
      }"
    />
    <v-autocomplete
      v-if="what === 'page'"
      v-bind="pageForm.field('page')"
      :items="offered"
      label="Page"
      auto-select-first
      autofocus
    />
    <v-autocomplete
      v-else-if="what === 'quiz'"
      v-bind="quizForm.field('quiz')"
      :items="offeredQuizzes"
      label="Quiz"
      auto-select-first
    />
    <v-autocomplete
      v-else-if="what === 'junction'"
      v-bind="junctionForm.field('junction')"
      :items="offeredJunctions"
      label="Junction"
      auto-select-first
    />
    <template v-else>
      <v-text-field v-bind="outsideForm.field('name')" label="Name" />
      <v-text-field v-bind="outsideForm.field('url')" label="Address" placeholder="https://" />
    </template>
  </QuickDialog>
</template>
