<script setup lang="ts">
import { ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { PersonView } from '../../contract/audience/people.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import QuickDialog from '../frame/QuickDialog.vue'

/** Takes away what a rehearsal left, so that somebody made up begins anew. */
const props = defineProps<{ person: PersonView }>()
const emit = defineEmits<{ close: [] }>()
const agreed = ref(props.person.marketingState === 'subscribed')
const { refused, busy, attempt } = useAttempts()

async function startOver(): Promise<void> {
  const body = { agreed: agreed.value }
  if (await attempt(() => call(api.people.startOver, { params: { id: props.person.id }, body })))
    emit('close')
}
</script>

<template>
  <QuickDialog
    :model-value="true"
    :title="`Start over with ${person.name || person.address}?`"
    submit-label="Start over"
    destructive
    :problem="refused"
    :busy="busy"
    @update:model-value="$emit('close')"
    @submit="startOver"
  >
    <p>
      Their journal, mail, tags, topics, scores and places in follow-ups are deleted, and their clock goes
      back to now. Name, address and fields stay.
    </p>
    <v-checkbox
      v-model="agreed"
      label="They have agreed to marketing email"
      hint="Leave this out to try a form as somebody new."
      persistent-hint
    />
  </QuickDialog>
</template>
