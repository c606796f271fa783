<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import type { SiteView } from '../../contract/pages.ts'
import type { QuizView } from '../../contract/quizzes.ts'
import type { BlockDocument, Section } from '../../core/blocks/document.ts'
import { answersOf, quizContent, type QuizContent } from '../../core/quizzes/quiz.ts'
import { expectedShares, type Shares } from '../../core/quizzes/proof/options.ts'
import { call } from '../api.ts'
import { useDesk } from '../blocks/desk.ts'
import DeskHead from '../blocks/DeskHead.vue'
import { useDraft, type DraftKind } from '../blocks/draft.ts'
import { useEditing, type Editing } from '../blocks/editing.ts'
import EditorDesk from '../blocks/EditorDesk.vue'
import { sheetContext } from '../blocks/site.ts'
import { useNowIso } from '../now.ts'
import ProofPanel from './ProofPanel.vue'
import { useQuizProof } from './proving.ts'
import QuestionInspector from './QuestionInspector.vue'
import { useQuizEditing } from './quizEditing.ts'
import QuizInspector from './QuizInspector.vue'
import ResultInspector from './ResultInspector.vue'
import ResultPage from './ResultPage.vue'
import ScoreSheet from './ScoreSheet.vue'

/** The editor of a quiz: the score sheet with its proof, and beside it what is chosen; or the page of a result. */
const props = defineProps<{ view: QuizView; site: SiteView }>()
const emit = defineEmits<{ reload: [] }>()
const router = useRouter()
const now = useNowIso()
const params = { id: props.view.id }

const quizzes: DraftKind<QuizContent> = {
  name: 'quiz',
  shape: quizContent,
  save: (id, body) => call(api.quizzes.save, { params: { id }, body }),
}
const draft = useDraft(quizzes, props.view)
const editing = useQuizEditing(props.view.content)
const { content, selected, question, result } = editing
watch(content, (next) => draft.set(next))

const by = ref<'even' | 'expected' | 'measured'>('even')
const measured = ref<Shares>(null)
// What was measured is read once: the proof does without it.
void call(api.quizzes.report, { params, query: { days: 1_000 } }).then(
  ({ shares, began }) => (measured.value = began > 0 ? shares : null),
  () => undefined,
)
const shares = computed((): Shares => {
  if (by.value === 'expected') return expectedShares(content.value)
  return by.value === 'measured' ? measured.value : null
})
const { proof, busy: proving } = useQuizProof(content, shares)

const opened = Date.parse(now.value)
const context = computed(() => sheetContext(props.site, opened))

/** The page of a result that is being written. */
const writing = shallowRef<{ result: string; editing: Editing } | null>(null)
function write(id: string | null = selected.value): void {
  const shown = content.value.results.find((each) => each.id === id)
  if (shown?.shows.by === 'page')
    writing.value = { result: shown.id, editing: useEditing(shown.shows.document) }
}
function changePage(document: BlockDocument): void {
  const of = content.value.results.find(({ id }) => id === writing.value?.result)
  if (of) editing.setResult({ ...of, shows: { by: 'page', document } }, `page ${of.id}`)
}
const written = computed(() => content.value.results.find(({ id }) => id === writing.value?.result))

const desk = useDesk(quizzes, props.view.id, draft, {
  open(next) {
    writing.value = null
    editing.replace(next)
  },
  publish: (body) => call(api.quizzes.publish, { params, body }),
  async keepAsCopy(kept) {
    const body = { name: `${props.view.name} (mine)`.slice(0, 120), content: kept }
    const { id } = await call(api.quizzes.create, { body })
    await router.push(`/library/quizzes/${id}`)
  },
  reload: () => emit('reload'),
})
const { attempt } = desk.attempts
const saveSection = (section: Section): Promise<boolean> =>
  attempt(() => call(api.site.saveSection, { body: { name: written.value?.name ?? 'Result', section } }))

/** A finding leads to its question or result. */
function go(part: string): void {
  const { questions, results } = content.value
  const of = questions.find((each) => each.id === part || answersOf(each).some(({ id }) => id === part))
  if (of) selected.value = of.id
  else if (results.some(({ id }) => id === part)) selected.value = part
  writing.value = null
}
const settings = (): void => {
  selected.value = null
}
</script>

<template>
  <ResultPage
    v-if="writing && written"
    :key="writing.result"
    :editing="writing.editing"
    :name="written.name"
    :context="context"
    @change="changePage"
    @save-section="saveSection"
    @back="writing = null"
  >
    <template #bar>
      <DeskHead
        :key="writing.result"
        :name="`${view.name}: ${written.name}`"
        :state="view.state"
        :draft="draft"
        :history="writing.editing"
        :desk="desk"
        @go="go"
        @reload="emit('reload')"
      />
    </template>
  </ResultPage>
  <EditorDesk v-else>
    <template #bar>
      <DeskHead
        :name="view.name"
        :state="view.state"
        :draft="draft"
        :history="editing"
        :desk="desk"
        @go="go"
        @reload="emit('reload')"
      >
        <template #action>
          <v-btn variant="outlined" size="small" :to="`/library/quizzes/${view.id}/report`">Report</v-btn>
        </template>
      </DeskHead>
    </template>
    <template #sheet>
      <div class="middle">
        <ScoreSheet :editing="editing" :proof="proof" :expects="by === 'expected'" />
        <ProofPanel
          v-model:by="by"
          :content="content"
          :proof="proof"
          :busy="proving"
          :measured="measured !== null"
          @go="go"
        />
      </div>
    </template>
    <template #inspector>
      <QuestionInspector v-if="question" :key="question.id" :editing="editing" :context="context" />
      <ResultInspector v-else-if="result" :key="result.id" :editing="editing" @write="write()" />
      <v-btn v-if="selected !== null" variant="text" size="small" @click="settings">Quiz settings</v-btn>
      <QuizInspector
        v-if="selected === null"
        :view="view"
        :editing="editing"
        :site="site"
        :save="draft.save"
        @reload="emit('reload')"
      />
    </template>
  </EditorDesk>
</template>

<style scoped>
.middle {
  display: flex;
  flex-direction: column;
  gap: 12px;
  min-height: 0;
  overflow: auto;
  padding-bottom: 12px;
}

.middle > :first-child {
  flex: 1 1 auto;
  min-height: 260px;
}

.middle > :last-child {
  flex: none;
}
</style>
