<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { z } from 'zod'
import * as api from '../../../contract/api.ts'
import type { BulkRequest, SelectionInput } from '../../../contract/audience/people.ts'
import { call, linkTo } from '../../api.ts'
import { useForm } from '../../form.ts'
import ActionMenu from '../../frame/ActionMenu.vue'
import QuickDialog from '../../frame/QuickDialog.vue'
import { useLoaded } from '../../loading.ts'
import { peopleOf } from '../../wording.ts'
import { useChosenPeople } from '../../email/broadcasts/audience.ts'

/** What can be done to everybody who is meant. */
const props = defineProps<{ who: SelectionInput; people: number }>()

type Kind = BulkRequest['does']['kind']
const doing = ref<Kind | null>(null)
const chosenPeople = useChosenPeople()
const router = useRouter()

const titles: Record<Kind, string> = {
  addTag: 'Add a tag to',
  removeTag: 'Remove a tag from',
  startFollowup: 'Start a follow-up for',
}
const labels: Record<Kind, string> = { addTag: 'Tag', removeTag: 'Tag', startFollowup: 'Follow-up' }
const missing: Record<Kind, string> = {
  addTag: 'Choose or type a tag',
  removeTag: 'Choose a tag',
  startFollowup: 'Choose a follow-up',
}

const { data: tags } = useLoaded((signal) => call(api.tags.list, { signal }), ['audience'])
const { data: followups } = useLoaded((signal) => call(api.followups.list, { signal }), [])
const live = computed(() => (followups.value ?? []).filter(({ state }) => state === 'live'))
const tagNames = computed(() => (tags.value ?? []).map(({ name }) => name))

const form = useForm(
  z.object({ tag: z.string().trim().nullable(), thing: z.number().nullable() }).check(({ value, issues }) => {
    const path = doing.value === 'addTag' ? 'tag' : 'thing'
    const chosen = value[path]
    if (chosen === null || chosen === '')
      issues.push({ code: 'custom', input: chosen, path: [path], message: missing[doing.value ?? 'addTag'] })
  }),
  { tag: null, thing: null },
)
watch(doing, () => form.reset({ tag: null, thing: null }))

function requestOf(
  kind: Kind,
  { tag, thing }: { tag: string | null; thing: number | null },
): BulkRequest['does'] {
  switch (kind) {
    case 'addTag':
      return { kind, tag: tag ?? '' }
    case 'removeTag':
      return { kind, tag: thing ?? 0 }
    case 'startFollowup':
      return { kind, followup: thing ?? 0 }
  }
}

async function start(): Promise<void> {
  const kind = doing.value
  if (!kind) return
  const started = await form.submit((chosen) =>
    call(api.people.bulk, { body: { who: props.who, does: requestOf(kind, chosen) } }),
  )
  if (started) doing.value = null
}

const exported = computed(() => ({ query: { who: JSON.stringify(props.who) } }))
const actions = computed(() => [
  ...(Object.keys(titles) as Kind[]).map((kind) => ({
    title: `${titles[kind]} ${peopleOf(props.people)}`,
    run: () => {
      doing.value = kind
    },
  })),
  {
    title: `Send an email to ${peopleOf(props.people)}`,
    run: () => {
      chosenPeople.chosen = { who: props.who, people: props.people }
      void router.push('/outbox/broadcasts/new')
    },
  },
  { title: 'Export as CSV', href: linkTo(api.people.exportCsv, exported.value) },
  { title: 'Export as JSON lines', href: linkTo(api.people.exportJsonLines, exported.value) },
])
</script>

<template>
  <ActionMenu label="Actions" :actions="actions" :disabled="people === 0" />
  <QuickDialog
    v-if="doing"
    :model-value="true"
    :title="`${titles[doing]} ${peopleOf(people)}`"
    :submit-label="`Apply to ${peopleOf(people)}`"
    :problem="form.problem"
    :busy="form.busy"
    @update:model-value="doing = null"
    @submit="start"
  >
    <v-combobox
      v-if="doing === 'addTag'"
      v-bind="form.field('tag')"
      :label="labels[doing]"
      :items="tagNames"
    />
    <v-autocomplete
      v-else
      v-bind="form.field('thing')"
      :label="labels[doing]"
      :items="doing === 'removeTag' ? (tags ?? []) : live"
      item-title="name"
      item-value="id"
    />
  </QuickDialog>
</template>
