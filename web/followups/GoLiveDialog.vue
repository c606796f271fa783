<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import * as api from '../../contract/api.ts'
import type { FollowupDraft, FollowupView, GoingLivePreview } from '../../contract/followups.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import QuickDialog from '../frame/QuickDialog.vue'
import { peopleOf } from '../wording.ts'

/** Before a follow-up goes live: what the check found, and what happens to those inside, step by step. */
const props = defineProps<{ view: FollowupView; draft: FollowupDraft }>()
const emit = defineEmits<{ done: [] }>()
const open = defineModel<boolean>({ required: true })
const { refused, busy, attempt } = useAttempts()
const params = { id: props.view.id }

const inside = ref<GoingLivePreview>([])
watch(open, (isOpen) => {
  if (isOpen)
    void attempt(async () => {
      inside.value = await call(api.followups.goingLive, { params })
    })
})
const moved = computed(() => inside.value.filter(({ stays }) => !stays))
const staying = computed(() =>
  inside.value.filter(({ stays }) => stays).reduce((sum, { people }) => sum + people, 0),
)
/** Emails that are drafts go live with it; whatever else is an error keeps it from going live. */
const drafts = computed(() => [
  ...new Set(props.draft.findings.flatMap(({ mend }) => (mend?.does === 'publishEmail' ? [mend.email] : []))),
])
const errors = computed(() =>
  props.draft.findings.filter(({ level, mend }) => level === 'error' && mend?.does !== 'publishEmail'),
)
const advice = computed(() => props.draft.findings.filter(({ level }) => level === 'advice'))

async function goLive(): Promise<void> {
  if (errors.value.length > 0) {
    open.value = false
    return
  }
  const { version, revision } = props.draft
  const through = await attempt(() =>
    call(api.followups.goLive, { params, body: { version, revision, publish: drafts.value } }),
  )
  if (!through) return
  open.value = false
  emit('done')
}
</script>

<template>
  <QuickDialog
    v-model="open"
    :title="`“${view.name}” goes live`"
    :submit-label="
      errors.length
        ? 'Back to the timetable'
        : drafts.length
          ? `Publish ${drafts.length === 1 ? 'the email' : `${drafts.length} emails`} and go live`
          : 'Go live'
    "
    :problem="refused"
    :busy="busy"
    :width="600"
    @submit="goLive"
  >
    <template v-if="errors.length">
      <p>It cannot go live yet:</p>
      <ul>
        <li v-for="({ words }, i) in errors" :key="i">{{ words }}</li>
      </ul>
    </template>
    <template v-else>
      <p v-if="drafts.length">
        {{
          drafts.length === 1 ? 'One of its emails is a draft' : `${drafts.length} of its emails are drafts`
        }}
        and {{ drafts.length === 1 ? 'goes' : 'go' }} live with it.
      </p>
      <p v-if="view.live === null">Nobody is inside yet.</p>
      <template v-else>
        <p v-if="staying">{{ peopleOf(staying) }} stay on their step.</p>
        <ul v-if="moved.length">
          <li v-for="({ step, people, to }, i) in moved" :key="i">
            {{ peopleOf(people) }} on “{{ step }}”, which is taken out:
            {{ to === null ? 'they leave, since nothing comes after it' : `on to ${to}` }}
          </li>
        </ul>
        <p>Nobody gets an email of it twice.</p>
      </template>
      <template v-if="draft.changes.length">
        <h3>What is different</h3>
        <ul>
          <li v-for="change in draft.changes" :key="change">{{ change }}</li>
        </ul>
      </template>
      <template v-if="advice.length">
        <h3>To consider</h3>
        <ul>
          <li v-for="({ words }, i) in advice" :key="i">{{ words }}</li>
        </ul>
      </template>
    </template>
  </QuickDialog>
</template>

<style scoped>
ul {
  margin: 0;
  padding-left: 18px;
}
</style>
