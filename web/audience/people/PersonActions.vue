<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../../contract/api.ts'
import type { PersonView } from '../../../contract/audience/people.ts'
import { call, linkTo } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import ActionMenu from '../../frame/ActionMenu.vue'
import QuickDialog from '../../frame/QuickDialog.vue'
import MergePerson from './MergePerson.vue'
import PersonEdit from './PersonEdit.vue'

/** What can be done about one person: edit, merge, export, erase. */
const props = defineProps<{ person: PersonView }>()
const router = useRouter()

const doing = ref<'edit' | 'merge' | 'erase' | null>(null)
const { refused, busy, attempt } = useAttempts()

async function erase(): Promise<void> {
  const erased = await attempt(() => call(api.people.erase, { params: { id: props.person.id } }))
  if (erased) await router.push('/people')
}

const { id } = props.person
const actions = [
  { title: 'Merge with another person', run: () => (doing.value = 'merge') },
  { title: 'Export their data as JSON', href: linkTo(api.people.dataJson, { params: { id } }) },
  { title: 'Export their data as CSV', href: linkTo(api.people.dataCsv, { params: { id } }) },
  { title: 'Erase', run: () => (doing.value = 'erase'), destructive: true },
]
</script>

<template>
  <v-btn size="small" variant="outlined" @click="doing = 'edit'">Edit</v-btn>
  <ActionMenu label="More" size="small" :actions="actions" />
  <PersonEdit
    v-if="doing === 'edit'"
    :model-value="true"
    :person="person"
    @update:model-value="doing = null"
  />
  <MergePerson
    v-if="doing === 'merge'"
    :model-value="true"
    :person="person"
    @update:model-value="doing = null"
  />
  <QuickDialog
    v-if="doing === 'erase'"
    :model-value="true"
    :title="`Erase ${person.name || person.address}?`"
    submit-label="Erase permanently"
    destructive
    :problem="refused"
    :busy="busy"
    @update:model-value="doing = null"
    @submit="erase"
  >
    <p>
      Everything about them is deleted at once and cannot be restored. Only a scrambled form of the address is
      kept, so that a later import does not bring them back.
    </p>
  </QuickDialog>
</template>
