<script setup lang="ts">
import { mdiCellphone, mdiMonitor, mdiRedo, mdiUndo } from '@mdi/js'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../../contract/api.ts'
import type { PageView, SiteView } from '../../contract/pages.ts'
import type { Section } from '../../core/blocks/document.ts'
import type { Part, Place } from '../../core/blocks/operations.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import { placeAfter, useEditing } from '../blocks/editing.ts'
import InsertMenu from '../blocks/InsertMenu.vue'
import PartInspector from '../blocks/inspector/PartInspector.vue'
import OutlineView from '../blocks/OutlineView.vue'
import SheetView from '../blocks/SheetView.vue'
import { sheetContext } from '../blocks/site.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import { useNowIso } from '../now.ts'
import { useSession } from '../workspace/session.ts'
import { whenOf } from '../wording.ts'
import ChecksMenu from './ChecksMenu.vue'
import { copySelected, deskKeys } from './deskKeys.ts'
import { forgetKept, keptContent, useDraft } from './draft.ts'
import PageInspector from './PageInspector.vue'
import PageStateMark from './PageStateMark.vue'

/** The editor: outline, sheet and inspector of one page. */
const props = defineProps<{ view: PageView; site: SiteView }>()
const emit = defineEmits<{ reload: [] }>()
const router = useRouter()
const session = useSession()
const now = useNowIso()

const draft = useDraft(props.view)
const editing = useEditing(props.view.content.document)
const { document, selected, canUndo, canRedo } = editing
const opened = Date.parse(now.value)
const context = computed(() => sheetContext(props.site, opened))
const width = ref<'wide' | 'phone'>('wide')
const insertAt = ref<Place | null>(null)
const sheet = useTemplateRef<InstanceType<typeof SheetView>>('sheet')
const outline = useTemplateRef<InstanceType<typeof OutlineView>>('outline')
const { refused, busy, attempt } = useAttempts()

watch(editing.edits, () => draft.set({ ...draft.content.value, document: document.value }))

/** What this browser wrote when the server was away is offered again. */
const kept = ref(keptContent(props.view.id))
function bringBack(): void {
  if (!kept.value) return
  draft.set(kept.value)
  editing.open(kept.value.document)
  kept.value = null
}
function dropKept(): void {
  forgetKept(props.view.id)
  kept.value = null
}

const savedWords = computed(() => {
  if (draft.problem.value && draft.problem.value.status !== 409) return 'not saved yet'
  if (draft.unsaved.value) return 'saving…'
  return `saved ${whenOf(draft.state.value.savedAt, session.me?.business.zone ?? 'UTC', now.value)}`
})
const errors = computed(() => draft.state.value.findings.filter(({ level }) => level === 'error').length)

async function publish(): Promise<void> {
  const { id } = props.view
  const through = await attempt(async () => {
    if (!(await draft.save())) return
    const { version, revision } = draft.state.value
    await call(api.pages.publish, { params: { id }, body: { version, revision } })
  })
  if (through && !draft.problem.value) emit('reload')
}

async function preview(): Promise<void> {
  await attempt(async () => {
    await draft.save()
    const { url } = await call(api.pages.previewLink, { params: { id: props.view.id } })
    window.open(new URL(url).pathname, '_blank', 'noopener')
  })
}

async function keepAsCopy(): Promise<void> {
  const { view } = props
  await attempt(async () => {
    const { id } = await call(api.pages.create, {
      body: {
        name: `${view.name} (mine)`.slice(0, 120),
        path: `${view.path.slice(0, 80)}-${Date.now().toString(36)}`,
        purpose: view.purpose,
        content: draft.content.value,
      },
    })
    forgetKept(view.id)
    await router.push(`/library/pages/${id}`)
  })
}

const naming = ref<Section | null>(null)
const sectionName = ref('')
async function saveSection(): Promise<void> {
  const section = naming.value
  if (!section) return
  const body = { name: sectionName.value, section }
  if (await attempt(() => call(api.site.saveSection, { body }))) naming.value = null
}

function insert(part: Part, at: Place): void {
  editing.insert(part, at)
  void nextTick(() => outline.value?.focusSelected())
}

/** Asks what to add after the selected part. */
function askInsert(): void {
  const part = editing.part.value
  insertAt.value = placeAfter(document.value, selected.value, part === null)
}

/** Keys of the outline and the sheet. */
const pressed = deskKeys(editing, {
  askInsert,
  write: (id) => sheet.value?.write(id),
  leave: () => outline.value?.focusSelected(),
})
</script>

<template>
  <div class="desk">
    <header class="bar">
      <h1>{{ view.name }}</h1>
      <PageStateMark :state="view.state" />
      <v-btn-toggle v-model="width" mandatory density="compact" variant="outlined" aria-label="Width">
        <v-btn value="wide" size="small" :icon="mdiMonitor" aria-label="Wide" />
        <v-btn value="phone" size="small" :icon="mdiCellphone" aria-label="Phone" />
      </v-btn-toggle>
      <v-btn
        :icon="mdiUndo"
        size="small"
        variant="text"
        aria-label="Undo"
        :disabled="!canUndo"
        @click="editing.undo"
      />
      <v-btn
        :icon="mdiRedo"
        size="small"
        variant="text"
        aria-label="Redo"
        :disabled="!canRedo"
        @click="editing.redo"
      />
      <span class="soft" role="status">{{ savedWords }}</span>
      <span v-if="draft.state.value.others.length" class="others">
        {{ draft.state.value.others.join(', ') }}
        {{ draft.state.value.others.length === 1 ? 'has' : 'have' }} this page open too
      </span>
      <span class="grow" />
      <ChecksMenu
        :findings="draft.state.value.findings"
        :changes="draft.state.value.changes"
        @go="(part: string) => (selected = part)"
      />
      <v-btn variant="outlined" size="small" @click="preview">Preview</v-btn>
      <v-btn color="secondary" size="small" :loading="busy" :disabled="errors > 0" @click="publish"
        >Publish</v-btn
      >
    </header>
    <div class="notes">
      <ProblemNote :problem="refused" />
      <v-alert v-if="editing.refused.value" type="warning">{{ editing.refused.value }}</v-alert>
      <v-alert v-if="kept" type="info" title="This browser has changes that were never saved">
        <v-btn size="small" @click="bringBack">Bring them back</v-btn>
        <v-btn size="small" variant="text" @click="dropKept">Discard</v-btn>
      </v-alert>
      <v-alert v-if="draft.conflict.value" type="error" role="alert" :title="draft.problem.value?.title">
        <p>{{ draft.problem.value?.detail }}</p>
        <v-btn size="small" variant="outlined" @click="emit('reload')">Load their version</v-btn>
        <v-btn size="small" variant="outlined" @click="draft.save(true)">Save mine over it</v-btn>
        <v-btn size="small" variant="outlined" @click="keepAsCopy">Keep mine as a copy</v-btn>
      </v-alert>
      <ProblemNote v-else :problem="draft.problem.value" />
    </div>
    <div class="three">
      <OutlineView
        ref="outline"
        class="panel side"
        :editing="editing"
        @insert="(at: Place) => (insertAt = at)"
        @key="pressed"
      />
      <SheetView
        ref="sheet"
        class="middle"
        :editing="editing"
        :context="context"
        :width="width"
        @key="pressed"
      />
      <aside class="panel side inspect" aria-label="Inspector">
        <PartInspector
          v-if="editing.part.value"
          :editing="editing"
          :editor="sheet?.sheet?.richText ?? null"
          @copy="copySelected(editing)"
          @save-section="(section: Section) => ((naming = section), (sectionName = ''))"
        />
        <PageInspector
          v-else
          :view="view"
          :site="site"
          :draft="draft"
          :editing="editing"
          @reload="emit('reload')"
        />
        <v-btn v-if="editing.part.value" variant="text" size="small" @click="selected = null">
          Page settings
        </v-btn>
      </aside>
    </div>
    <InsertMenu :at="insertAt" medium="page" @insert="insert" @close="insertAt = null" />
    <QuickDialog
      :model-value="naming !== null"
      title="Save section to use again"
      submit-label="Save section"
      :problem="refused"
      :busy="busy"
      @update:model-value="naming = null"
      @submit="saveSection"
    >
      <v-text-field v-model="sectionName" label="Name" autofocus />
    </QuickDialog>
  </div>
</template>

<style scoped>
.desk {
  display: flex;
  flex-direction: column;
  height: calc(100vh - 104px);
  padding: 12px 24px 0;
}

.bar {
  display: flex;
  align-items: center;
  gap: 10px;
  flex-wrap: wrap;
  margin-bottom: 10px;
}

.grow {
  flex: 1;
}

.others {
  color: var(--signal);
  font-weight: 600;
}

.notes:not(:empty) {
  display: grid;
  gap: 8px;
}

.three {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: 240px minmax(0, 1fr) 360px;
  gap: 12px;
}

.side {
  overflow: hidden;
}

.inspect {
  overflow: auto;
  padding: 14px 16px;
}

@media (max-width: 1100px) {
  .three {
    grid-template-columns: 200px minmax(0, 1fr) 300px;
  }
}
</style>
