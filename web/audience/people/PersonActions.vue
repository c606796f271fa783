<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { contactList, type ContactRow, type PersonView } from '../../../contract/audience/people.ts'
import { change, find } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import QuickDialog from '../../frame/QuickDialog.vue'
import PersonEdit from './PersonEdit.vue'

/** What can be done about one person: change, merge, hand out, erase. */
const props = defineProps<{ person: PersonView }>()
const router = useRouter()

const doing = ref<'edit' | 'merge' | 'erase' | null>(null)
const { refused: problem, attempt } = useAttempts()
const typed = ref('')
const found = ref<ContactRow[]>([])
const other = ref(0)

function begin(what: 'edit' | 'merge' | 'erase'): void {
  problem.value = null
  typed.value = ''
  found.value = []
  other.value = 0
  doing.value = what
}

async function look(): Promise<void> {
  const search = typed.value
  await attempt(async () => {
    const rows = search ? (await find('/people/find', { search, size: 8 }, contactList)).rows : []
    // An answer that was overtaken by more typing is no answer.
    if (search === typed.value) found.value = rows.filter(({ id }) => id !== props.person.id)
  })
}

async function go(): Promise<void> {
  const path = `/people/${props.person.id}`
  const through = await attempt(async () => {
    if (doing.value === 'merge') await change(`${path}/merge`, { other: other.value })
    else {
      await change(`${path}/erase`)
      await router.push('/people')
    }
  })
  if (through) doing.value = null
}
</script>

<template>
  <v-btn size="small" variant="outlined" @click="begin('edit')">Change</v-btn>
  <v-menu>
    <template #activator="{ props: menu }">
      <v-btn v-bind="menu" size="small" variant="outlined">More…</v-btn>
    </template>
    <ul class="panel menu" role="menu">
      <li role="none">
        <button type="button" role="menuitem" @click="begin('merge')">Merge with somebody</button>
      </li>
      <li role="none">
        <a role="menuitem" :href="`/api/people/${person.id}/data.json`">Everything about them as JSON</a>
      </li>
      <li role="none">
        <a role="menuitem" :href="`/api/people/${person.id}/data.csv`">Everything about them as CSV</a>
      </li>
      <li role="none">
        <button type="button" role="menuitem" class="stop" @click="begin('erase')">Erase</button>
      </li>
    </ul>
  </v-menu>
  <PersonEdit :model-value="doing === 'edit'" :person="person" @update:model-value="doing = null" />
  <QuickDialog
    :model-value="doing === 'merge'"
    title="Merge with somebody"
    does="Make one person of the two"
    :problem="problem"
    :ready="other > 0"
    @update:model-value="doing = null"
    @done="go"
  >
    <label class="field">
      Who is the same person?
      <input v-model="typed" class="plain" placeholder="part of a name or address" @input="look" />
    </label>
    <ul class="found">
      <li v-for="row in found" :key="row.id">
        <label
          ><input v-model="other" class="plain" type="radio" name="other" :value="row.id" /> {{ row.name }}
          {{ row.address }}</label
        >
      </li>
    </ul>
    <p class="soft">
      Both histories, tags and consents are kept, and both addresses lead to
      {{ person.name || person.address }}. What is blank is filled in. It cannot be taken back.
    </p>
  </QuickDialog>
  <QuickDialog
    :model-value="doing === 'erase'"
    :title="`Erase ${person.name || person.address}?`"
    does="Erase for good"
    destructive
    :problem="problem"
    @update:model-value="doing = null"
    @done="go"
  >
    <p>
      Everything about them is deleted at once and cannot be brought back. Of the address only a scrambled
      mark stays, so that a later import does not bring them back.
    </p>
  </QuickDialog>
</template>

<style scoped>
.found {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
