<script setup lang="ts">
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import type { PageView, SiteView } from '../../contract/pages.ts'
import { pageContent, type PageContent } from '../../core/pages/page.ts'
import { call } from '../api.ts'
import DocumentDesk from '../blocks/DocumentDesk.vue'
import type { DraftKind } from '../blocks/draft.ts'
import PageInspector from './PageInspector.vue'

/** The editor of one page. */
const props = defineProps<{ view: PageView; site: SiteView }>()
const emit = defineEmits<{ reload: [] }>()
const router = useRouter()
const { id, name, path, purpose } = props.view
const params = { id }

const kind: DraftKind<PageContent> = {
  name: 'page',
  shape: pageContent,
  save: (_id, body) => call(api.pages.save, { params, body }),
}

async function preview(): Promise<void> {
  const { url } = await call(api.pages.previewLink, { params })
  window.open(new URL(url).pathname, '_blank', 'noopener')
}

async function keepAsCopy(content: PageContent): Promise<void> {
  const body = {
    name: `${name} (mine)`.slice(0, 120),
    path: `${path.slice(0, 80)}-${Date.now().toString(36)}`,
    purpose,
    content,
  }
  const made = await call(api.pages.create, { body })
  await router.push(`/library/pages/${made.id}`)
}
</script>

<template>
  <DocumentDesk
    :view="view"
    :site="site"
    :kind="kind"
    word="Page"
    :publish="(body) => call(api.pages.publish, { params, body })"
    :keep-as-copy="keepAsCopy"
    :preview="preview"
    @reload="emit('reload')"
  >
    <template #settings="{ draft, editing }">
      <PageInspector :view="view" :site="site" :draft="draft" :editing="editing" @reload="emit('reload')" />
    </template>
  </DocumentDesk>
</template>
