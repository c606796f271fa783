<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import { emailContent, type EmailContent } from '../../core/email/email.ts'
import { call } from '../api.ts'
import DocumentDesk from '../blocks/DocumentDesk.vue'
import type { Draft, DraftKind } from '../blocks/draft.ts'
import type { Painter } from '../blocks/painter.ts'
import OpeningNote from '../blocks/OpeningNote.vue'
import { useOpenThing } from '../blocks/openThing.ts'
import EmailInspector from './EmailInspector.vue'
import { emailPainter } from './emailPainter.ts'
import EmailPreview from './EmailPreview.vue'
import SendTest from './SendTest.vue'

/** Opens an email to be edited, with all that the editor draws and chooses from. */
const props = defineProps<{ id: number }>()
const route = useRoute()
const router = useRouter()
const params = { id: props.id }
const previewing = ref(false)
const testing = ref(false)

/** Who came from a follow-up or a new broadcast goes back there. */
const back = computed(() => {
  const { back: path } = route.query
  return typeof path === 'string' && /^\/[a-z][\w/-]*(\?email=\d+)?$/.test(path) ? path : null
})

const { view, problem, edition, library, reload } = useOpenThing(() => call(api.emails.view, { params }))

const kind: DraftKind<EmailContent> = {
  name: 'email',
  shape: emailContent,
  save: (_id, body) => call(api.emails.save, { params, body }),
}

/** What stands at its foot is drawn with it. */
function painterOf(draft: Draft<EmailContent>): Painter {
  const foot = computed(() => draft.content.value.why)
  void foot.value
  return emailPainter(() => draft.content.value)
}

async function keepAsCopy(content: EmailContent): Promise<void> {
  const name = `${view.value?.name ?? ''} (mine)`.slice(0, 120)
  const made = await call(api.emails.create, { body: { name, content } })
  await router.push(`/library/emails/${made.id}`)
}

async function openTest(draft: Draft<EmailContent>): Promise<void> {
  if (await draft.save()) testing.value = true
}
</script>

<template>
  <DocumentDesk
    v-if="view && library.site"
    :key="edition"
    :view="view"
    :site="library.site"
    :kind="kind"
    word="Email"
    medium="email"
    :painter-of="painterOf"
    :publish="(body) => call(api.emails.publish, { params, body })"
    :keep-as-copy="keepAsCopy"
    :preview="() => (previewing = true)"
    @reload="reload"
  >
    <template #action="{ draft }">
      <v-btn variant="outlined" size="small" @click="openTest(draft)">Send a test</v-btn>
    </template>
    <template #settings="{ draft }">
      <router-link v-if="back" :to="back">Back to where you came from</router-link>
      <EmailInspector :view="view" :draft="draft" @reload="reload" />
    </template>
  </DocumentDesk>
  <OpeningNote v-else title="Email" :problem="problem" />
  <EmailPreview v-if="previewing" :id="id" v-model="previewing" />
  <SendTest v-if="testing" :id="id" v-model="testing" />
</template>
