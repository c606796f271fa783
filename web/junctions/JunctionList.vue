<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { z } from 'zod'
import * as api from '../../contract/api.ts'
import { libraryName } from '../../contract/drafts.ts'
import type { JunctionRow } from '../../contract/junctions.ts'
import { junctionContent } from '../../core/junctions/junction.ts'
import { call } from '../api.ts'
import LabelledList from '../blocks/LabelledList.vue'
import { useThingActions } from '../blocks/thingActions.ts'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'

/** The junctions of the Library. */
const editors = '/library/junctions'
const router = useRouter()
const { data, problem } = useLoaded((signal) => call(api.junctions.list, { signal }), ['pages', 'audience'])
const things = useThingActions<JunctionRow>(api.junctions, { route: api.junctions.copy, path: editors })

const making = ref(false)
const form = useForm(z.object({ name: libraryName }), { name: '' })
async function create(): Promise<void> {
  let made = 0
  const through = await form.submit(async ({ name }) => {
    made = (await call(api.junctions.create, { body: { name, content: junctionContent.parse({}) } })).id
  })
  if (through) await router.push(`${editors}/${made}`)
}
</script>

<template>
  <LabelledList
    v-model:making="making"
    title="Junctions"
    word="junction"
    address="/j/"
    :editors="editors"
    :rows="data"
    :problem="problem"
    :things="things"
    :about="[
      { key: 'rules', title: 'Rules', words: ({ rules }) => countOf(rules) },
      { key: 'known', title: 'People, 30 days', words: ({ known }) => countOf(known) },
      { key: 'strangers', title: 'Unknown visitors', words: ({ strangers }) => countOf(strangers) },
    ]"
  >
    <template #none>No junctions yet. One link sends each person to the page that fits.</template>
    <template #lost><p>Its address leads nowhere then, also in mail that was sent.</p></template>
    <template #make>
      <QuickDialog
        v-model="making"
        title="New junction"
        submit-label="Make junction"
        :problem="form.problem"
        :busy="form.busy"
        @submit="create"
      >
        <v-text-field v-bind="form.field('name')" label="Name" placeholder="What next?" autofocus />
        <p>It begins without rules: then everybody goes where “otherwise” leads.</p>
      </QuickDialog>
    </template>
  </LabelledList>
</template>
