<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import type { EmailView } from '../../contract/emails.ts'
import { emailContent, emailLinks, type EmailContent } from '../../core/email/email.ts'
import { call, linkTo } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import type { Draft } from '../blocks/draft.ts'
import MergeTextField from '../blocks/inspector/MergeTextField.vue'
import VersionsInput from '../blocks/VersionsInput.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import LinksInput from './LinksInput.vue'

/** What can be set about an email as a whole: its lines, what kind it is, its text part. */
const props = defineProps<{ view: EmailView; draft: Draft<EmailContent> }>()
const emit = defineEmits<{ reload: [] }>()
const router = useRouter()
const { refused, attempt } = useAttempts()
const params = { id: props.view.id }
const content = computed(() => props.draft.content.value)
const set = (next: Partial<EmailContent>): void => props.draft.set({ ...content.value, ...next })

const name = ref(props.view.name)
async function rename(): Promise<void> {
  if (await attempt(() => call(api.emails.rename, { params, body: { name: name.value } }))) emit('reload')
}

const { data: topics } = useLoaded((signal) => call(api.topics.list, { signal }), ['audience'])
const topicItems = computed(() => [
  { value: null, title: 'No topic' },
  ...(topics.value ?? [])
    .filter(({ archived, id }) => !archived || id === content.value.topic)
    .map(({ id, name: title }) => ({ value: id, title })),
])
const kinds: { value: EmailContent['purpose']; title: string; subtitle: string }[] = [
  { value: 'marketing', title: 'Marketing', subtitle: 'Only to people who are subscribed' },
  {
    value: 'transactional',
    title: 'Transactional',
    subtitle: 'Only what the reader asked for: a file, a receipt',
  },
]

const { data: senders } = useLoaded((signal) => call(api.senders.list, { signal }), ['workspace'])
const senderItems = computed(() => [
  {
    value: null,
    title: 'The usual sender',
    subtitle: senders.value?.find(({ usual }) => usual)?.address ?? '',
  },
  ...(senders.value ?? []).map(({ id, name: title, address, confirmed }) => ({
    value: id,
    title,
    subtitle: confirmed ? address : `${address}, not confirmed yet`,
  })),
])

/** An address that is none is said, and the one before it stays. */
const replyTo = ref(content.value.replyTo)
const fault = ref<string>()
function setReplyTo(typed: string): void {
  replyTo.value = typed
  const read = emailContent.shape.replyTo.safeParse(typed.trim())
  fault.value = read.success ? undefined : 'Use an address such as name@example.com'
  if (read.success) set({ replyTo: read.data })
}

const links = computed(() => emailLinks(content.value))
/** Begins from what the blocks say. */
async function writeText(own: boolean): Promise<void> {
  if (!own) {
    set({ text: null })
    return
  }
  await props.draft.save()
  await attempt(async () => {
    const { text } = await call(api.emails.preview, { params })
    set({ text: text.split('\n\n--\n')[0] ?? '' })
  })
}

async function goBack(version: number): Promise<void> {
  await props.draft.save()
  if (await attempt(() => call(api.emails.goBack, { params, body: { version } }))) emit('reload')
}
async function archive(archived: boolean): Promise<void> {
  if (await attempt(() => call(api.emails.archive, { params, body: { archived } })))
    await router.push('/library/emails')
}
</script>

<template>
  <div class="email">
    <h2>Email</h2>
    <MergeTextField
      :model-value="content.subject"
      label="Subject"
      counter="60"
      persistent-counter
      @update:model-value="(subject: string) => set({ subject })"
    />
    <MergeTextField
      :model-value="content.preheader"
      label="Preheader"
      maxlength="300"
      hint="Stands beside the subject in a list of mails."
      @update:model-value="(preheader: string) => set({ preheader })"
    />
    <v-select
      :model-value="content.purpose"
      label="Kind"
      :items="kinds"
      :item-props="({ subtitle }) => ({ subtitle })"
      @update:model-value="(purpose: EmailContent['purpose']) => set({ purpose })"
    />
    <MergeTextField
      :model-value="content.why"
      label="Why people get it"
      :rows="2"
      hint="Stands at its foot, above your address and the ways out."
      @update:model-value="(why: string) => set({ why })"
    />
    <v-select
      :model-value="content.topic"
      label="Topic"
      :items="topicItems"
      @update:model-value="(topic: number | null) => set({ topic })"
    />
    <v-select
      :model-value="content.sender"
      label="From"
      :items="senderItems"
      :item-props="({ subtitle }) => ({ subtitle })"
      @update:model-value="(sender: number | null) => set({ sender })"
    />
    <v-text-field
      :model-value="replyTo"
      label="Answers go to"
      placeholder="the sender"
      persistent-placeholder
      :error-messages="fault"
      @update:model-value="setReplyTo"
    />

    <h3>Links</h3>
    <LinksInput :id="view.id" :content="content" @change="(onClick) => set({ onClick })" />

    <h3>Text part</h3>
    <v-switch
      :model-value="content.text !== null"
      label="Write it yourself"
      @update:model-value="(on) => writeText(on === true)"
    />
    <v-textarea
      v-if="content.text !== null"
      :model-value="content.text"
      label="Text part"
      rows="8"
      :hint="
        links.length > 0
          ? `{link 1} to {link ${links.length}} stand for the links of the email, in reading order.`
          : undefined
      "
      persistent-hint
      @update:model-value="(text: string) => set({ text })"
    />
    <p v-else class="soft">It is made of the blocks, with links written out.</p>
    <v-switch
      :model-value="content.textOnly"
      label="Send the text part alone"
      @update:model-value="(on) => set({ textOnly: on === true })"
    />
    <v-switch
      :model-value="content.tracked"
      label="Count opens and clicks"
      hide-details
      @update:model-value="(on) => set({ tracked: on === true })"
    />

    <h3>Take along</h3>
    <div class="exports">
      <v-btn size="small" variant="outlined" :href="linkTo(api.emails.exportHtml, { params })"
        >Export HTML</v-btn
      >
      <v-btn size="small" variant="outlined" :href="linkTo(api.emails.exportEml, { params })"
        >Export .eml</v-btn
      >
    </div>

    <h3>Name</h3>
    <v-text-field v-model="name" label="Name in the Library" />
    <v-btn v-if="name !== view.name" size="small" @click="rename">Save name</v-btn>

    <h3>Versions</h3>
    <VersionsInput :versions="view.versions" @go-back="goBack" />
    <p v-if="view.usedIn.length" class="soft">Sent by {{ view.usedIn.join(', ') }}.</p>
    <p v-else class="soft">Nothing sends it yet.</p>
    <ProblemNote :problem="refused" />
    <v-btn size="small" variant="text" color="error" @click="archive(view.state !== 'archived')">
      {{ view.state === 'archived' ? 'Take out of the archive' : 'Archive email' }}
    </v-btn>
  </div>
</template>

<style scoped>
.email {
  display: grid;
  gap: 12px;
}

.email p {
  margin: 0;
}

.exports {
  display: flex;
  gap: 8px;
}

h3 {
  margin: 8px 0 0;
  border-top: 1px solid var(--rule);
  padding-top: 12px;
}

.email > .v-btn {
  justify-self: start;
}
</style>
