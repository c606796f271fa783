<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import type { JunctionView } from '../../contract/junctions.ts'
import type { SiteView } from '../../contract/pages.ts'
import { junctionContent, otherwise, type JunctionContent } from '../../core/junctions/junction.ts'
import { call } from '../api.ts'
import { useDesk } from '../blocks/desk.ts'
import DeskHead from '../blocks/DeskHead.vue'
import { useDraft, type DraftKind } from '../blocks/draft.ts'
import EditorDesk from '../blocks/EditorDesk.vue'
import { useJunctionEditing } from './junctionEditing.ts'
import JunctionInspector from './JunctionInspector.vue'
import JunctionLine from './JunctionLine.vue'
import JunctionTrial from './JunctionTrial.vue'
import PassesPanel from './PassesPanel.vue'
import RuleInspector from './RuleInspector.vue'

/** The editor of a junction: its rules as a line with what is proved of them, and the inspector. */
const props = defineProps<{ view: JunctionView; site: SiteView }>()
const emit = defineEmits<{ reload: [] }>()
const router = useRouter()
const params = { id: props.view.id }

const junctions: DraftKind<JunctionContent, JunctionView> = {
  name: 'junction',
  shape: junctionContent,
  save: async (id, body) => ({
    ...props.view,
    ...(await call(api.junctions.save, { params: { id }, body })),
    content: body.content,
  }),
}
const draft = useDraft(junctions, props.view)
const editing = useJunctionEditing(props.view.content)
const { content, selected } = editing
watch(content, (next) => draft.set(next))

const people = ref<ReadonlyMap<string, number> | null>(null)
let asking: AbortController | null = null
async function count(): Promise<void> {
  asking?.abort()
  const mine = new AbortController()
  asking = mine
  try {
    const body = { content: content.value }
    const { rules } = await call(api.junctions.sorted, { params, body, signal: mine.signal })
    people.value = new Map(rules.map((each) => [each.rule, each.people]))
  } catch {
    // Nobody has counted: the line says so by leaving the numbers open.
    if (asking === mine) people.value = null
  }
}
const countSoon = useDebounceFn(count, 500)
watch(content, () => {
  people.value = null
  void countSoon()
})
void count()

const tried = ref<string | null>(null)
const inspector = useTemplateRef<HTMLElement>('inspector')
async function edit(): Promise<void> {
  await nextTick()
  inspector.value?.querySelector<HTMLElement>('input:not([type=hidden]), button')?.focus()
}

const desk = useDesk(junctions, props.view.id, draft, {
  open: editing.replace,
  publish: (body) => call(api.junctions.publish, { params, body }),
  async keepAsCopy(kept) {
    const body = { name: `${props.view.name} (mine)`.slice(0, 120), content: kept }
    const { id } = await call(api.junctions.create, { body })
    await router.push(`/library/junctions/${id}`)
  },
  reload: () => emit('reload'),
})

/** A finding leads to its rule. */
function go(part: string): void {
  if (part === otherwise || content.value.rules.some(({ id }) => id === part)) selected.value = part
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
      />
    </template>
    <template #sheet>
      <div class="middle">
        <JunctionLine
          :editing="editing"
          :site="site"
          :proof="draft.state.value.proof"
          :findings="draft.state.value.findings"
          :people="people"
          :tried="tried"
          @edit="edit"
        />
        <JunctionTrial :id="view.id" :content="content" @sent="(rule: string | null) => (tried = rule)" />
        <PassesPanel :id="view.id" :content="content" />
      </div>
    </template>
    <template #inspector>
      <div v-if="selected !== null" ref="inspector">
        <RuleInspector :editing="editing" />
      </div>
      <v-btn v-if="selected !== null" variant="text" size="small" @click="selected = null">
        Junction settings
      </v-btn>
      <JunctionInspector
        v-else
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
  overflow: auto;
  padding-bottom: 12px;
}

.middle > * {
  flex: none;
}
</style>
