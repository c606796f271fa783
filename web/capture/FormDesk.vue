<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import type { FormView } from '../../contract/forms.ts'
import type { SiteView } from '../../contract/pages.ts'
import { fieldsOf, formContent, type FormContent, type FormField } from '../../core/capture/form.ts'
import type { FieldPlace } from '../../core/capture/formEdits.ts'
import { call } from '../api.ts'
import { useDesk } from '../blocks/desk.ts'
import DeskHead from '../blocks/DeskHead.vue'
import { useDraft, type DraftKind } from '../blocks/draft.ts'
import EditorDesk from '../blocks/EditorDesk.vue'
import { sheetContext } from '../blocks/site.ts'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import { useNowIso } from '../now.ts'
import AddField from './AddField.vue'
import FieldInspector from './FieldInspector.vue'
import { useFormEditing } from './formEditing.ts'
import FormInspector from './FormInspector.vue'
import FormNumbersPanel from './FormNumbersPanel.vue'
import FormOutline from './FormOutline.vue'
import FormTrials from './FormTrials.vue'
import FormSheet, { type Shown } from './FormSheet.vue'

/** The editor of a form: outline, the form itself with what it does below, inspector. */
const props = defineProps<{ view: FormView; site: SiteView }>()
const emit = defineEmits<{ reload: [] }>()
const router = useRouter()
const now = useNowIso()

const forms: DraftKind<FormContent, Pick<FormView, keyof FormView>> = {
  name: 'form',
  shape: formContent,
  save: async (id, body) => ({ ...props.view, ...(await call(api.forms.save, { params: { id }, body })) }),
}
const draft = useDraft(forms, props.view)
const editing = useFormEditing(props.view.content)
const { content, selected, shownStep } = editing
watch(content, (next) => draft.set(next))

const outline = useTemplateRef<InstanceType<typeof FormOutline>>('outline')
const insertAt = ref<FieldPlace | null>(null)
const opened = Date.parse(now.value)
const context = computed(() => sheetContext(props.site, opened))
const drawn = computed(() => ({
  id: props.view.id,
  version: draft.state.value.version,
  content: content.value,
  fields: props.site.fields,
}))

const shown = ref<Shown>('form')
const shownChoices = computed((): Partial<Record<Shown, string>> => ({
  form: 'Form',
  ...(content.value.after.then !== 'go' && { sent: 'After sending' }),
  ...(content.value.confirm.when !== 'never' && { waiting: 'Until confirmed' }),
}))
watch(selected, (id) => id !== null && (shown.value = 'form'))
watch(shownChoices, (choices) => shown.value in choices || (shown.value = 'form'))

const desk = useDesk(forms, props.view.id, draft, {
  open: editing.replace,
  publish: (body) => call(api.forms.publish, { params: { id: props.view.id }, body }),
  async keepAsCopy(kept) {
    const body = { name: `${props.view.name} (mine)`.slice(0, 120), content: kept }
    const { id } = await call(api.forms.create, { body })
    await router.push(`/library/forms/${id}`)
  },
  reload: () => emit('reload'),
})

function insert(field: FormField, at: FieldPlace): void {
  editing.insert(field, at)
  void nextTick(() => outline.value?.focusSelected())
}

/** A finding leads to its field. */
function go(part: string): void {
  if (
    fieldsOf(content.value).some(({ id }) => id === part) ||
    content.value.steps.some(({ id }) => id === part)
  )
    selected.value = part
}
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
        @go="go"
        @reload="emit('reload')"
      >
        <template #action>
          <FormTrials :id="view.id" :published="view.state === 'live'" />
        </template>
      </DeskHead>
    </template>
    <template #outline>
      <FormOutline ref="outline" :editing="editing" @insert="(at: FieldPlace) => (insertAt = at)" />
    </template>
    <template #sheet>
      <div class="middle" tabindex="0" role="region" aria-label="Sheet">
        <ChoiceToggle
          v-if="Object.keys(shownChoices).length > 1"
          v-model="shown"
          label="What is shown"
          :choices="shownChoices as Record<Shown, string>"
        />
        <FormSheet
          :form="drawn"
          :context="context"
          :shown="shown"
          :step="shownStep"
          :selected="selected"
          @select="(id: string | null) => (selected = id)"
        />
        <section class="below" aria-label="What it does">
          <h2>What it does</h2>
          <ul>
            <li v-for="sentence in draft.state.value.sends" :key="sentence">{{ sentence }}</li>
          </ul>
          <FormNumbersPanel :id="view.id" />
        </section>
      </div>
    </template>
    <template #inspector>
      <template v-if="selected !== null">
        <FieldInspector :editing="editing" />
        <v-btn variant="text" size="small" @click="selected = null">Form settings</v-btn>
      </template>
      <FormInspector
        v-else
        :view="view"
        :editing="editing"
        :public-url="site.publicUrl"
        :save="draft.save"
        @reload="emit('reload')"
      />
    </template>
    <template #more>
      <AddField :at="insertAt" @insert="insert" @close="insertAt = null" />
    </template>
  </EditorDesk>
</template>

<style scoped>
.middle {
  overflow: auto;
  background: color-mix(in srgb, var(--rule) 45%, var(--paper));
  padding: 16px;
  display: grid;
  gap: 14px;
  align-content: start;
  justify-items: center;
}

.middle > iframe,
.below {
  width: 100%;
  max-width: 568px;
}

.below {
  background: var(--surface);
  border: 1px solid var(--rule);
  padding: 14px 18px;
}

.below ul {
  margin: 4px 0 0;
  padding-left: 18px;
}

.below li::first-letter {
  text-transform: uppercase;
}
</style>
