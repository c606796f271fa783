<script setup lang="ts" generic="Content extends { document: BlockDocument }">
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { mdiCellphone, mdiMonitor } from '@mdi/js'
import * as api from '../../contract/api.ts'
import type { DraftState, ThingState } from '../../contract/drafts.ts'
import type { SiteView } from '../../contract/pages.ts'
import type { BlockDocument, Section } from '../../core/blocks/document.ts'
import type { Medium } from '../../core/blocks/kinds/blockKind.ts'
import type { Part, Place } from '../../core/blocks/operations.ts'
import { call } from '../api.ts'
import QuickDialog from '../frame/QuickDialog.vue'
import { useNowIso } from '../now.ts'
import { copySelected, deskKeys } from './deskKeys.ts'
import { useDesk } from './desk.ts'
import DeskHead from './DeskHead.vue'
import { useDraft, type Draft, type DraftKind } from './draft.ts'
import { placeAfter, useEditing, type Editing } from './editing.ts'
import EditorDesk from './EditorDesk.vue'
import InsertMenu from './InsertMenu.vue'
import PartInspector from './inspector/PartInspector.vue'
import OutlineView from './OutlineView.vue'
import { pagePainter, type Painter } from './painter.ts'
import SheetView from './SheetView.vue'
import { sheetContext } from './site.ts'

/** The editor of a thing that is a block document: outline, sheet and inspector. */
const props = defineProps<{
  view: DraftState & { id: number; name: string; state: ThingState; content: Content }
  site: SiteView
  kind: DraftKind<Content>
  /** As in “Page settings”. */
  word: string
  medium?: Medium
  /** Draws the document on the sheet; as a page of the public site without. */
  painterOf?: (draft: Draft<Content>) => Painter
  /** The sheet shows the document alone, without head and foot of the site. */
  bare?: boolean
  publish: (meant: { version: number; revision: number }) => Promise<unknown>
  /** Keeps what is written as a thing of its own, and goes there. */
  keepAsCopy: (content: Content) => Promise<unknown>
  /** Shows what is written to somebody who has a link. */
  preview?: () => unknown
}>()
const emit = defineEmits<{ reload: [] }>()
defineSlots<{
  /** What can be set about the whole. */
  settings(scope: { draft: Draft<Content>; editing: Editing }): unknown
  /** What else can be done with it. */
  action?(scope: { draft: Draft<Content> }): unknown
}>()
const now = useNowIso()

const { kind, view } = props
const draft = useDraft(kind, view)
const editing = useEditing(view.content.document)
const { document, selected } = editing
// A finding elsewhere leads to its part.
const { part: askedFor } = useRoute().query
if (typeof askedFor === 'string') selected.value = askedFor
const opened = Date.parse(now.value)
const painter = computed(
  () => props.painterOf?.(draft) ?? pagePainter(sheetContext(props.site, opened), props.bare),
)
const sheetTitle = computed(() =>
  props.medium === 'email' ? 'The email as its readers see it' : 'The page as its visitors see it',
)
/** Pop-ups and emails are narrow wherever they are read (px). */
const wide = computed(() => (props.medium === 'email' ? 680 : props.bare ? 560 : 1120))
const width = ref<'wide' | 'phone'>('wide')
const insertAt = ref<Place | null>(null)
const sheet = useTemplateRef<InstanceType<typeof SheetView>>('sheet')
const outline = useTemplateRef<InstanceType<typeof OutlineView>>('outline')

watch(editing.edits, () => draft.set({ ...draft.content.value, document: document.value }))

const desk = useDesk(kind, view.id, draft, {
  open(content) {
    draft.set(content)
    editing.open(content.document)
  },
  publish: props.publish,
  keepAsCopy: props.keepAsCopy,
  reload: () => emit('reload'),
})
const { refused, busy, attempt } = desk.attempts

const showPreview = (): Promise<boolean> =>
  attempt(async () => {
    await draft.save()
    await props.preview?.()
  })

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
  <EditorDesk>
    <template #bar>
      <DeskHead
        :name="view.name"
        :state="view.state"
        :draft="draft"
        :history="editing"
        :desk="desk"
        @go="(part: string) => (selected = part)"
        @reload="emit('reload')"
      >
        <v-btn-toggle v-model="width" mandatory density="compact" variant="outlined" aria-label="Width">
          <v-btn value="wide" size="small" :icon="mdiMonitor" aria-label="Wide" />
          <v-btn value="phone" size="small" :icon="mdiCellphone" aria-label="Phone" />
        </v-btn-toggle>
        <template #action>
          <v-btn v-if="preview" variant="outlined" size="small" @click="showPreview">Preview</v-btn>
          <slot name="action" :draft="draft" />
        </template>
        <template #notes>
          <v-alert v-if="editing.refused.value" type="warning">{{ editing.refused.value }}</v-alert>
        </template>
      </DeskHead>
    </template>
    <template #outline>
      <OutlineView ref="outline" :editing="editing" @insert="(at: Place) => (insertAt = at)" @key="pressed" />
    </template>
    <template #sheet>
      <SheetView
        ref="sheet"
        :editing="editing"
        :painter="painter"
        :title="sheetTitle"
        :wide="wide"
        :width="width"
        @key="pressed"
      />
    </template>
    <template #inspector>
      <PartInspector
        v-if="editing.part.value"
        :editing="editing"
        :editor="sheet?.sheet?.richText ?? null"
        @copy="copySelected(editing)"
        @save-section="(section: Section) => ((naming = section), (sectionName = ''))"
      />
      <slot v-else name="settings" :draft="draft" :editing="editing" />
      <v-btn v-if="editing.part.value" variant="text" size="small" @click="selected = null">
        {{ word }} settings
      </v-btn>
    </template>
    <template #more>
      <InsertMenu :at="insertAt" :medium="medium ?? 'page'" @insert="insert" @close="insertAt = null" />
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
    </template>
  </EditorDesk>
</template>

<style scoped>
/* Compact icons would be as narrow as they are drawn. */
.v-btn-toggle > .v-btn {
  width: 40px;
}
</style>
