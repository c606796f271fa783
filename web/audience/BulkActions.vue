<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { tagList, type BulkRequest, type SelectionWish } from '../../contract/audience.ts'
import { followupList } from '../../contract/followups.ts'
import { workStarted } from '../../contract/work.ts'
import { change, queryOf, read } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import SendBroadcast from '../email/SendBroadcast.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { peopleOf } from '../wording.ts'

/** What can be done to everybody who is meant. */
const props = defineProps<{ who: SelectionWish; people: number }>()

const { data: tags } = useLoaded((signal) => read('/tags', tagList, signal), ['audience'])
const { data: followups } = useLoaded((signal) => read('/followups', followupList, signal), [])
const live = computed(() => (followups.value ?? []).filter(({ state }) => state === 'live'))

type Kind = BulkRequest['does']['kind']
const doing = ref<Kind | null>(null)
const sending = ref(false)
const tag = ref('')
const chosen = ref(0)
const { refused: problem, attempt } = useAttempts()
watch(doing, () => {
  tag.value = ''
  chosen.value = 0
  problem.value = null
})

const titles: Record<Kind, string> = {
  addTag: 'Put a tag on',
  removeTag: 'Take a tag off',
  startFollowup: 'Start a follow-up for',
}
const open = computed({ get: () => doing.value !== null, set: (is) => is || (doing.value = null) })
const ready = computed(() => (doing.value === 'addTag' ? tag.value.trim() !== '' : chosen.value > 0))

function wish(): BulkRequest['does'] {
  if (doing.value === 'removeTag') return { kind: 'removeTag', tag: chosen.value }
  if (doing.value === 'startFollowup') return { kind: 'startFollowup', followup: chosen.value }
  return { kind: 'addTag', tag: tag.value.trim() }
}

async function go(): Promise<void> {
  const asked = { who: props.who, does: wish() }
  if (await attempt(() => change('/people/bulk', asked, workStarted))) doing.value = null
}

const exportPath = (format: 'csv' | 'jsonl'): string =>
  `/api/people/export.${format}${queryOf({ who: JSON.stringify(props.who) })}`
</script>

<template>
  <v-menu>
    <template #activator="{ props: menu }">
      <v-btn v-bind="menu" variant="outlined" :disabled="people === 0">With these…</v-btn>
    </template>
    <ul class="panel menu" role="menu">
      <li v-for="(title, kind) in titles" :key="kind" role="none">
        <button type="button" role="menuitem" @click="doing = kind">
          {{ title }} {{ peopleOf(people) }}
        </button>
      </li>
      <li role="none">
        <button type="button" role="menuitem" @click="sending = true">
          Send an email to {{ peopleOf(people) }}
        </button>
      </li>
      <li role="none"><a role="menuitem" :href="exportPath('csv')">Export as CSV</a></li>
      <li role="none"><a role="menuitem" :href="exportPath('jsonl')">Export as JSON lines</a></li>
    </ul>
  </v-menu>
  <SendBroadcast v-if="sending" v-model="sending" :who="who" />
  <QuickDialog
    v-if="doing"
    v-model="open"
    :title="`${titles[doing]} ${peopleOf(people)}`"
    :does="`Do it for ${peopleOf(people)}`"
    :problem="problem"
    :ready="ready"
    @done="go"
  >
    <label v-if="doing === 'addTag'" class="field">
      Tag <input v-model="tag" class="plain" list="known-tags" maxlength="80" />
    </label>
    <datalist id="known-tags">
      <option v-for="each in tags ?? []" :key="each.id" :value="each.name" />
    </datalist>
    <label v-if="doing !== 'addTag'" class="field">
      {{ doing === 'removeTag' ? 'Tag' : 'Follow-up' }}
      <select v-model="chosen" class="plain">
        <option :value="0" disabled>choose</option>
        <option v-for="each in doing === 'removeTag' ? (tags ?? []) : live" :key="each.id" :value="each.id">
          {{ each.name }}
        </option>
      </select>
    </label>
  </QuickDialog>
</template>
