<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import PersonSearch from '../audience/people/PersonSearch.vue'

/** Sends the draft to people of the team: it really goes out, marked as a test, and counts nowhere. */
const props = defineProps<{ id: number }>()
const open = defineModel<boolean>({ required: true })
const { data: team, problem } = useLoaded((signal) => call(api.emails.team, { signal }), ['workspace'])
const chosen = ref<number[]>([])
const person = ref<number | null>(null)
const sent = ref(false)
watch(team, (all) => {
  if (chosen.value.length === 0) chosen.value = (all ?? []).filter(({ isMe }) => isMe).map(({ id }) => id)
})
const items = computed(() =>
  (team.value ?? []).map(({ id, name, address, isMe }) => ({
    value: id,
    title: `${name}${isMe ? ' (you)' : ''}`,
    subtitle: address,
  })),
)

const { refused, busy, attempt } = useAttempts()
async function send(): Promise<void> {
  if (sent.value) {
    open.value = false
    return
  }
  const body = { accounts: chosen.value, person: person.value }
  sent.value = await attempt(() => call(api.emails.test, { params: { id: props.id }, body }))
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Send a test"
    :submit-label="sent ? 'Close' : 'Send test'"
    :problem="problem ?? refused"
    :busy="busy || (team === null && problem === null)"
    @submit="send"
  >
    <p v-if="sent" role="status">
      On its way, with “[Test]” before the subject. Its links work and count nowhere.
    </p>
    <template v-else>
      <v-select
        v-model="chosen"
        label="To"
        :items="items"
        :item-props="({ subtitle }) => ({ subtitle })"
        multiple
        chips
      />
      <PersonSearch v-model="person" label="As it reads for (optional)" />
    </template>
  </QuickDialog>
</template>
