<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { z } from 'zod'
import * as api from '../../contract/api.ts'
import { libraryName } from '../../contract/drafts.ts'
import type { QuizRow } from '../../contract/quizzes.ts'
import { quizStarts } from '../../core/quizzes/startingPoints.ts'
import { call } from '../api.ts'
import { newPartId } from '../blocks/editing.ts'
import LabelledList from '../blocks/LabelledList.vue'
import { useThingActions } from '../blocks/thingActions.ts'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'

/** The quizzes of the Library. */
const editors = '/library/quizzes'
const router = useRouter()
const { data, problem } = useLoaded((signal) => call(api.quizzes.list, { signal }), ['pages', 'audience'])
const things = useThingActions<QuizRow>(api.quizzes, { route: api.quizzes.copy, path: editors })

const making = ref(false)
const form = useForm(z.object({ name: libraryName, start: z.string() }), { name: '', start: 'which' })
async function create(): Promise<void> {
  let made = 0
  const through = await form.submit(async ({ name, start }) => {
    const begun = quizStarts.find(({ id }) => id === start) ?? quizStarts[0]
    if (!begun) return
    made = (await call(api.quizzes.create, { body: { name, content: begun.make(newPartId) } })).id
  })
  if (through) await router.push(`${editors}/${made}`)
}
</script>

<template>
  <LabelledList
    v-model:making="making"
    title="Quizzes"
    word="quiz"
    address="/q/"
    :editors="editors"
    :rows="data"
    :problem="problem"
    :things="things"
    :about="[
      { key: 'questions', title: 'Questions', words: ({ questions }) => countOf(questions) },
      { key: 'began', title: 'Began, 30 days', words: ({ began }) => countOf(began) },
      { key: 'finished', title: 'Finished', words: ({ finished }) => countOf(finished) },
      { key: 'known', title: 'Gave address', words: ({ known }) => countOf(known) },
    ]"
  >
    <template #none>No quizzes yet. A few questions tell you what each person wants.</template>
    <template #lost>
      <p>All takes of it are deleted too, and its address leads nowhere, also in mail that was sent.</p>
    </template>
    <template #make>
      <QuickDialog
        v-model="making"
        title="New quiz"
        submit-label="Make quiz"
        :problem="form.problem"
        :busy="form.busy"
        @submit="create"
      >
        <v-text-field v-bind="form.field('name')" label="Name" placeholder="Which one suits you?" autofocus />
        <v-radio-group v-bind="form.field('start')" label="Begin from" hide-details>
          <v-radio v-for="each in quizStarts" :key="each.id" :value="each.id">
            <template #label>
              <span>
                <strong>{{ each.name }}</strong><br /><span class="soft">{{ each.about }}</span>
              </span>
            </template>
          </v-radio>
        </v-radio-group>
      </QuickDialog>
    </template>
  </LabelledList>
</template>
