<script setup lang="ts">
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import { popUpContent, type PopUpContent } from '../../core/capture/popUp.ts'
import { call } from '../api.ts'
import DocumentDesk from '../blocks/DocumentDesk.vue'
import type { DraftKind } from '../blocks/draft.ts'
import OpeningNote from '../blocks/OpeningNote.vue'
import { useOpenThing } from '../blocks/openThing.ts'
import PopUpInspector from './PopUpInspector.vue'

/** Opens a pop-up to be edited, with all that the editor draws and chooses from. */
const props = defineProps<{ id: number }>()
const router = useRouter()
const params = { id: props.id }
const { view, problem, edition, library, reload } = useOpenThing(() => call(api.popUps.view, { params }))

const kind: DraftKind<PopUpContent> = {
  name: 'pop-up',
  shape: popUpContent,
  save: (_id, body) => call(api.popUps.save, { params, body }),
}
async function keepAsCopy(content: PopUpContent): Promise<void> {
  const name = `${view.value?.name ?? ''} (mine)`.slice(0, 120)
  const made = await call(api.popUps.create, { body: { name, content } })
  await router.push(`/library/pop-ups/${made.id}`)
}
</script>

<template>
  <DocumentDesk
    v-if="view && library.site"
    :key="edition"
    :view="view"
    :site="library.site"
    :kind="kind"
    word="Pop-up"
    bare
    :publish="(body) => call(api.popUps.publish, { params, body })"
    :keep-as-copy="keepAsCopy"
    @reload="reload"
  >
    <template #settings="{ draft }">
      <PopUpInspector :view="view" :draft="draft" @reload="reload" />
    </template>
  </DocumentDesk>
  <OpeningNote v-else title="Pop-up" :problem="problem" />
</template>
