<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import { call, linkTo } from '../api.ts'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import PersonSearch, { type Reader } from '../audience/people/PersonSearch.vue'

/** An email as somebody would read it, in the mailboxes that there are: its draft, or what is published. */
const props = withDefaults(defineProps<{ id: number; reader?: Reader | null; published?: boolean }>(), {
  reader: null,
})
const open = defineModel<boolean>({ required: true })

type Look = 'wide' | 'phone' | 'dark' | 'off' | 'text'
const looks: Readonly<Record<Look, string>> = {
  wide: 'Wide',
  phone: 'Phone',
  dark: 'Dark',
  off: 'Pictures off',
  text: 'Text',
}
const look = ref<Look>('wide')
const person = ref<number | null>(props.reader?.id ?? null)
const params = { id: props.id }
const query = computed(() => ({
  ...(person.value !== null && { person: person.value }),
  ...(look.value === 'off' && { pictures: 'off' as const }),
  ...(look.value === 'dark' && { dark: 'yes' as const }),
  ...(props.published && { of: 'published' as const }),
}))
const { data, problem } = useLoaded(
  (signal) => call(api.emails.preview, { params, query: query.value, signal }),
  ['email'],
  () => person.value,
)
</script>

<template>
  <v-dialog v-model="open" width="860" aria-label="Preview">
    <v-card class="preview">
      <div class="choices">
        <PersonSearch v-model="person" label="As it reads for" :first="reader" />
        <ChoiceToggle v-model="look" label="Where it is read" :choices="looks" />
        <v-btn variant="text" @click="open = false">Close</v-btn>
      </div>
      <ProblemNote :problem="problem" />
      <p v-if="data" class="lines">
        <strong>{{ data.subject || 'no subject' }}</strong> <span class="soft">{{ data.preheader }}</span>
      </p>
      <pre v-if="look === 'text'" tabindex="0" aria-label="Text part">{{ data?.text }}</pre>
      <iframe
        v-else
        :src="linkTo(api.emails.previewHtml, { params, query })"
        title="The email as it is read"
        :class="{ phone: look === 'phone' }"
      />
    </v-card>
  </v-dialog>
</template>

<style scoped>
.preview {
  padding: 16px;
}

.choices {
  display: flex;
  align-items: center;
  gap: 12px;
}

.choices > :first-child {
  flex: 1;
}

.lines {
  margin: 10px 0;
}

iframe,
pre {
  width: 100%;
  height: calc(100vh - 230px);
  min-height: 240px;
  border: 1px solid var(--rule);
  background: #fff;
}

pre {
  overflow: auto;
  padding: 16px;
  margin: 0;
  white-space: pre-wrap;
}

iframe.phone {
  width: 390px;
  align-self: center;
}
</style>
