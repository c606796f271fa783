<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import type {
  FollowupDraft,
  FollowupNumbers,
  FollowupState as State,
  FollowupView,
  StateChange,
} from '../../contract/followups.ts'
import type { Program } from '../../core/followups/program.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ChecksMenu from '../blocks/ChecksMenu.vue'
import type { Draft } from '../blocks/draft.ts'
import ActionMenu from '../frame/ActionMenu.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import { peopleOf } from '../wording.ts'
import FollowupState from './FollowupState.vue'
import FollowupHead from './FollowupHead.vue'

/** The top of a follow-up: its state, the check, going live. */
const props = defineProps<{
  view: FollowupView
  draft: Draft<Program, FollowupDraft>
  numbers: FollowupNumbers | null
}>()
const emit = defineEmits<{ go: [part: string]; goLive: []; reload: [] }>()
const router = useRouter()
const { refused, busy, attempt } = useAttempts()

const saved = computed(() => props.draft.state.value)
const params = { id: props.view.id }
const change = (body: StateChange): Promise<boolean> =>
  attempt(async () => {
    await call(api.followups.changeState, { params, body })
    emit('reload')
  })

/** Asked before people who were held go on, or leave for good. */
const asking = ref<'resume' | 'archive' | null>(null)
const how = ref<'catchUp' | 'shift'>('catchUp')
const hows = [
  { title: 'Catch up: what became due goes now, the rest as far apart as planned', value: 'catchUp' },
  { title: 'Shift: everything comes later by the length of the pause', value: 'shift' },
]
async function answer(): Promise<void> {
  const through = await change(
    asking.value === 'archive' ? { do: 'archive' } : { do: 'resume', how: how.value },
  )
  if (through) asking.value = null
}
const copy = (): Promise<boolean> =>
  attempt(async () => {
    const { id } = await call(api.followups.copy, { params })
    await router.push(`/follow-ups/${id}`)
  })
const actionsIn: Record<State, () => { title: string; run: () => void; destructive?: boolean }[]> = {
  draft: () => [],
  live: () => [
    { title: 'Pause', run: () => void change({ do: 'pause' }) },
    { title: 'Close to new people', run: () => void change({ do: 'close' }) },
  ],
  paused: () => [{ title: 'Resume…', run: () => (asking.value = 'resume') }],
  closing: () => [
    { title: 'Open to new people', run: () => void change({ do: 'reopen' }) },
    { title: 'Pause', run: () => void change({ do: 'pause' }) },
  ],
  archived: () => [{ title: 'Take out of the archive', run: () => void change({ do: 'unarchive' }) }],
}
const actions = computed(() => [
  ...actionsIn[props.view.state](),
  { title: 'Duplicate', run: () => void copy() },
  ...(props.view.state === 'archived'
    ? []
    : [{ title: 'Archive…', run: () => (asking.value = 'archive' as const), destructive: true }]),
])
const isChanged = computed(() => props.view.live === null || saved.value.changes.length > 0)
</script>

<template>
  <FollowupHead :id="view.id" :name="view.name" class="bar">
    <template #state>
      <FollowupState :state="view.state" />
      <span class="soft">{{ numbers ? `${peopleOf(numbers.inside)} inside` : '' }}</span>
    </template>
    <span v-if="saved.others.length" class="others">
      {{ saved.others.join(', ') }} {{ saved.others.length === 1 ? 'has' : 'have' }} this open too
    </span>
    <ChecksMenu
      :findings="saved.findings"
      :changes="saved.changes"
      @go="(part: string) => $emit('go', part)"
    />
    <ActionMenu label="More" size="small" :actions="actions" />
    <v-btn color="secondary" size="small" :loading="busy" :disabled="!isChanged" @click="$emit('goLive')">
      Go live
    </v-btn>
    <QuickDialog
      :model-value="asking !== null"
      :title="asking === 'archive' ? `Archive “${view.name}”?` : `Resume “${view.name}”`"
      :submit-label="asking === 'archive' ? 'Archive' : 'Resume'"
      :destructive="asking === 'archive'"
      :problem="refused"
      :busy="busy"
      @update:model-value="asking = null"
      @submit="answer"
    >
      <p v-if="asking === 'archive'">
        {{ peopleOf(numbers?.inside ?? 0) }} inside leave it, and get no more of it. What they did stays in
        their journals.
      </p>
      <v-radio-group v-else v-model="how" label="Who was held by the pause">
        <v-radio v-for="each in hows" :key="each.value" :value="each.value" :label="each.title" />
      </v-radio-group>
    </QuickDialog>
  </FollowupHead>
  <ProblemNote :problem="asking ? null : refused" />
</template>

<style scoped>
.bar {
  margin: 0;
  gap: 10px;
}

.bar :deep(h1) {
  font-size: 18px;
  line-height: 24px;
}

.others {
  color: var(--ink);
  font-weight: 700;
}
</style>
