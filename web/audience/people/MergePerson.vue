<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { ref } from 'vue'
import { z } from 'zod'
import * as api from '../../../contract/api.ts'
import type { ContactRow, PersonView } from '../../../contract/audience/people.ts'
import { call } from '../../api.ts'
import { choice, useForm } from '../../form.ts'
import QuickDialog from '../../frame/QuickDialog.vue'

/** Makes one person of two; the other is searched for by name or address. */
const props = defineProps<{ person: PersonView }>()
const open = defineModel<boolean>({ required: true })

const form = useForm(z.object({ other: choice('Choose the other person') }), { other: null })
const found = ref<ContactRow[]>([])
const searched = ref('')

const look = useDebounceFn(async (search: string) => {
  searched.value = search
  const rows = search ? (await call(api.people.find, { body: { search, size: 8 } })).rows : []
  // An answer that was overtaken by more typing is no answer.
  if (search === searched.value) found.value = rows.filter(({ id }) => id !== props.person.id)
}, 200)

async function merge(): Promise<void> {
  const merged = await form.submit((body) =>
    call(api.people.merge, { params: { id: props.person.id }, body }),
  )
  if (merged) open.value = false
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Merge with another person"
    submit-label="Merge"
    :problem="form.problem"
    :busy="form.busy"
    @submit="merge"
  >
    <v-autocomplete
      v-bind="form.field('other')"
      label="Other person"
      placeholder="Search by name or address"
      :items="found"
      :item-title="({ name, address }: ContactRow) => (name ? `${name}, ${address}` : address)"
      item-value="id"
      no-filter
      :no-data-text="searched ? `No results for “${searched}”.` : 'Type a name or address.'"
      autofocus
      @update:search="look"
    />
    <p class="soft">
      Both histories, tags and consents are kept, and both addresses lead to
      {{ person.name || person.address }}. Blank details are filled in from the other person. This cannot be
      undone.
    </p>
  </QuickDialog>
</template>
