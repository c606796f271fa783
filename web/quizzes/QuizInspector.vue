<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { QuizView } from '../../contract/quizzes.ts'
import type { SiteView } from '../../contract/pages.ts'
import type { CountedBy, QuizContent, ShareButton } from '../../core/quizzes/quiz.ts'
import PublicSettings from '../blocks/PublicSettings.vue'
import PictureInput from '../blocks/inspector/PictureInput.vue'
import type { QuizEditing } from './quizEditing.ts'

/** The quiz as a whole: what it counts, cover, address, sharing, name, versions. */
const props = defineProps<{
  view: QuizView
  editing: QuizEditing
  site: SiteView
  save: () => Promise<boolean>
}>()
const emit = defineEmits<{ reload: [] }>()
const { content, set } = props.editing

const ways: { title: string; value: CountedBy }[] = [
  { title: 'Type: answers count for results', value: 'type' },
  { title: 'Points: the sum gives the result', value: 'points' },
  { title: 'Both: the sum first, then what counts most', value: 'both' },
]
const asks: { title: string; value: QuizContent['address']['ask'] }[] = [
  { title: 'Before the result', value: 'before' },
  { title: 'Before the result, can be skipped', value: 'skippable' },
  { title: 'Below the result', value: 'after' },
  { title: 'Not at all', value: 'never' },
]
const buttons: { title: string; value: ShareButton }[] = [
  { title: 'Copy the link', value: 'copy' },
  { title: 'Send it by email', value: 'email' },
  { title: 'Share by the device', value: 'device' },
]
const ties = computed(() => [
  { title: 'The first in the order of results', value: '' },
  ...content.value.questions.map(({ id, words }, at) => ({
    title: `The answer to question ${at + 1}: ${words}`,
    value: id,
  })),
])
const forms = computed(() =>
  props.site.forms.map((each) => ({
    value: each.id,
    title: each.live ? each.name : `${each.name} (not live)`,
  })),
)
const setAddress = (given: Partial<QuizContent['address']>): void =>
  set({ address: { ...content.value.address, ...given } })
const cover = (given: Partial<NonNullable<QuizContent['cover']>>): void =>
  set({ cover: { words: '', picture: null, button: 'Begin', ...content.value.cover, ...given } })

const address = computed(() => `${props.site.publicUrl}/q/${props.view.path}`)
const end = '<' + '/script>'
const frame = computed(
  () =>
    `<iframe src="${address.value}?in=frame" title="${content.value.title.replaceAll('"', '&quot;')}" style="width:100%;border:0" height="560"></iframe><script>addEventListener('message',({data,source})=>{for(const f of document.querySelectorAll('iframe'))if(f.contentWindow===source&&data?.nurtel)f.style.height=data.nurtel.height+'px'})${end}`,
)
const copied = ref('')
async function copy(text: string): Promise<void> {
  await navigator.clipboard.writeText(text)
  copied.value = text
}
</script>

<template>
  <div class="parts">
    <h2>Quiz</h2>
    <v-text-field
      :model-value="content.title"
      label="Title"
      @update:model-value="(title: string) => set({ title })"
    />
    <v-select
      :model-value="content.by"
      label="The result comes by"
      :items="ways"
      @update:model-value="(by: CountedBy) => set({ by })"
    />
    <v-select
      v-if="content.by !== 'points'"
      :model-value="content.tie.by === 'answer' ? content.tie.question : ''"
      label="When results count alike"
      :items="ties"
      @update:model-value="
        (question: string) => set({ tie: question ? { by: 'answer', question } : { by: 'order' } })
      "
    />
    <h3>Address</h3>
    <v-select
      :model-value="content.address.ask"
      label="Ask for the address"
      :items="asks"
      @update:model-value="(ask: QuizContent['address']['ask']) => setAddress({ ask })"
    />
    <template v-if="content.address.ask !== 'never'">
      <v-autocomplete
        :model-value="content.address.form"
        label="Form"
        :items="forms"
        @update:model-value="(chosen: number | null) => setAddress({ form: chosen })"
      />
      <v-textarea
        :model-value="content.address.words"
        label="Why it is worth it"
        rows="2"
        @update:model-value="(words: string) => setAddress({ words })"
      />
    </template>
    <h3>Cover</h3>
    <v-switch
      :model-value="content.cover !== null"
      label="Begin with a cover"
      @update:model-value="(wanted: boolean | null) => (wanted ? cover({}) : set({ cover: null }))"
    />
    <template v-if="content.cover">
      <v-textarea
        :model-value="content.cover.words"
        label="Words"
        rows="2"
        @update:model-value="(words: string) => cover({ words })"
      />
      <PictureInput
        :model-value="content.cover.picture"
        label="Picture (600 × 300)"
        @update:model-value="(picture: number | null) => cover({ picture })"
      />
      <v-text-field
        :model-value="content.cover.button"
        label="Button"
        @update:model-value="(button: string) => cover({ button })"
      />
    </template>
    <h3>Taking it</h3>
    <v-switch
      :model-value="content.shuffles"
      label="Questions in random order"
      @update:model-value="(shuffles: boolean | null) => set({ shuffles: shuffles === true })"
    />
    <v-switch
      :model-value="content.takes === 'once'"
      label="Once a person"
      @update:model-value="(once: boolean | null) => set({ takes: once ? 'once' : 'many' })"
    />
    <v-switch
      :model-value="content.showsShares"
      label="Show what others got"
      @update:model-value="(showsShares: boolean | null) => set({ showsShares: showsShares === true })"
    />
    <v-select
      :model-value="content.share.buttons"
      label="Buttons to share a result"
      :items="buttons"
      multiple
      chips
      @update:model-value="(chosen: ShareButton[]) => set({ share: { ...content.share, buttons: chosen } })"
    />
    <v-select
      v-if="content.share.buttons.length"
      :model-value="content.share.place"
      label="Where they stand"
      :items="[
        { title: 'Above the result', value: 'above' },
        { title: 'Below the result', value: 'below' },
      ]"
      @update:model-value="(place: 'above' | 'below') => set({ share: { ...content.share, place } })"
    />
    <h3>Where it is taken</h3>
    <v-text-field :model-value="address" label="Its own page" readonly class="figures" />
    <v-textarea :model-value="frame" label="On any other site" readonly rows="2" class="figures" />
    <div>
      <v-btn size="small" variant="text" @click="copy(address)">{{
        copied === address ? 'Copied' : 'Copy the address'
      }}</v-btn>
      <v-btn size="small" variant="text" @click="copy(frame)">{{
        copied === frame ? 'Copied' : 'Copy the lines'
      }}</v-btn>
    </div>
    <p class="soft">On pages and in pop-ups of yours it stands as a part “quiz”.</p>
    <PublicSettings :view="view" :routes="api.quizzes" prefix="/q/" :save="save" @reload="emit('reload')" />
  </div>
</template>

<style scoped>
.parts {
  display: grid;
  gap: 10px;
}

.parts p {
  margin: 0;
}

h2 {
  padding: 0;
  border: 0;
}

h3 {
  font-size: 14px;
  margin-top: 6px;
}
</style>
