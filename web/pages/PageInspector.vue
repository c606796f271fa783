<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import { pageSettings, type PageView, type SiteView } from '../../contract/pages.ts'
import { courseContent } from '../../core/pages/course.ts'
import { type LessonOpens, offeredPurposes, type PageContent, purposes } from '../../core/pages/page.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import type { Editing } from '../blocks/editing.ts'
import VersionsInput from '../blocks/VersionsInput.vue'
import PictureInput from '../blocks/inspector/PictureInput.vue'
import DeadlineSelect from '../commerce/DeadlineSelect.vue'
import { useSite } from '../blocks/site.ts'
import { useForm } from '../form.ts'
import DayInput from '../frame/DayInput.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useNowIso } from '../now.ts'
import BeginAgain from './BeginAgain.vue'
import type { Draft } from '../blocks/draft.ts'
import LessonOrder from './LessonOrder.vue'
import LimitedToInput from './LimitedToInput.vue'

/** The page itself: title, address, search engines, who may see it, versions. */
const props = defineProps<{ view: PageView; site: SiteView; draft: Draft<PageContent>; editing: Editing }>()
const emit = defineEmits<{ reload: [] }>()
const router = useRouter()
const now = useNowIso()

const { view } = props
const library = useSite()
const { refused, attempt } = useAttempts()
const form = useForm(pageSettings, {
  name: view.name,
  path: view.path,
  purpose: view.purpose,
  course: view.course,
})
const settingsChanged = computed(
  () =>
    form.values.name !== view.name ||
    form.values.path !== view.path ||
    form.values.purpose !== view.purpose ||
    form.values.course !== view.course,
)
async function saveSettings(): Promise<void> {
  await props.draft.save()
  if (await form.submit((body) => call(api.pages.settings, { params: { id: view.id }, body }))) emit('reload')
}

/** A clash of addresses is said while one types. */
const pathFault = ref('')
watch(
  () => form.values.path,
  async (path) => {
    const asked = path
    const answer = await call(api.pages.checkPath, { body: { path, page: view.id } }).catch(() => null)
    if (asked === form.values.path) pathFault.value = answer?.fault ?? ''
  },
)

const content = computed(() => props.draft.content.value)
const set = (given: Partial<PageContent>): void => props.draft.set({ ...content.value, ...given })
const setSharing = (given: Partial<PageContent['sharing']>): void =>
  set({ sharing: { ...content.value.sharing, ...given } })

const purposeItems = offeredPurposes.map((value) => ({ value, title: purposes[value].name }))
const courses = computed(() => props.site.courses.map(({ id, name }) => ({ value: id, title: name })))
const course = computed(() => props.site.courses.find(({ id }) => id === props.view.course))
const namingCourse = ref(false)
const courseName = ref('')
/** A new course is there to be chosen at once, and chosen. */
async function createCourse(): Promise<void> {
  await attempt(async () => {
    const { id } = await call(api.courses.create, {
      body: courseContent.parse({ name: courseName.value }),
    })
    await library.reload()
    form.values.course = id
    namingCourse.value = false
  })
}

const opensItems: { title: string; value: LessonOpens['when'] }[] = [
  { title: 'at once', value: 'atOnce' },
  { title: 'days after the person began', value: 'daysAfterStart' },
  { title: 'on a date', value: 'date' },
  { title: 'once the lesson before was seen', value: 'previousSeen' },
]
function setOpens(when: LessonOpens['when']): void {
  const fresh: { [K in LessonOpens['when']]: LessonOpens } = {
    atOnce: { when: 'atOnce' },
    daysAfterStart: { when: 'daysAfterStart', days: 1 },
    date: { when: 'date', date: now.value.slice(0, 10) },
    previousSeen: { when: 'previousSeen' },
  }
  set({ opens: fresh[when] })
}
const days = computed(() => (content.value.opens.when === 'daysAfterStart' ? content.value.opens.days : 1))
const date = computed(() => (content.value.opens.when === 'date' ? content.value.opens.date : null))

async function goBack(version: number): Promise<void> {
  await props.draft.save()
  if (await attempt(() => call(api.pages.goBack, { params: { id: view.id }, body: { version } })))
    emit('reload')
}
async function archive(archived: boolean): Promise<void> {
  if (await attempt(() => call(api.pages.archive, { params: { id: view.id }, body: { archived } })))
    await router.push('/library/pages')
}
</script>

<template>
  <div class="page">
    <h2>Page</h2>
    <v-text-field
      :model-value="content.title"
      label="Title"
      :error-messages="content.title.trim() ? '' : 'Give the page a title'"
      @update:model-value="(title: string) => set({ title })"
    />
    <v-textarea
      :model-value="content.description"
      label="Description for search engines"
      :counter="300"
      @update:model-value="(description: string) => set({ description })"
    />
    <v-switch
      :model-value="content.listed"
      label="Search engines may list it"
      @update:model-value="(listed) => set({ listed: listed === true })"
    />
    <LimitedToInput
      :model-value="content.limitedTo"
      :site="site"
      @update:model-value="(limitedTo: PageContent['limitedTo']) => set({ limitedTo })"
    />
    <DeadlineSelect
      :model-value="content.deadline"
      label="Personal deadline"
      hint="Open to each while theirs runs, then closed for good"
      @update:model-value="(deadline: string | null) => set({ deadline })"
    />

    <h3>Name and address</h3>
    <v-text-field v-bind="form.field('name')" label="Name in the Library" />
    <v-text-field
      v-bind="form.field('path')"
      label="Address"
      prefix="/p/"
      :error-messages="form.faults.path ?? pathFault"
      hint="Old addresses lead on to the new one."
      persistent-hint
    />
    <v-select v-bind="form.field('purpose')" label="Purpose" :items="purposeItems" />
    <v-autocomplete v-bind="form.field('course')" label="Course" :items="courses" clearable />
    <v-btn size="small" variant="text" @click="((courseName = ''), (namingCourse = true))">New course</v-btn>
    <QuickDialog
      v-model="namingCourse"
      title="New course"
      submit-label="Make course"
      :problem="refused"
      @submit="createCourse"
    >
      <v-text-field v-model="courseName" label="Name of the course" autofocus />
    </QuickDialog>
    <ProblemNote :problem="form.problem" />
    <v-btn v-if="settingsChanged" size="small" :loading="form.busy" @click="saveSettings">
      Save name and address
    </v-btn>

    <template v-if="view.course !== null">
      <h3>Lesson</h3>
      <v-select
        :model-value="content.opens.when"
        label="Opens"
        :items="opensItems"
        @update:model-value="setOpens"
      />
      <v-number-input
        v-if="content.opens.when === 'daysAfterStart'"
        :model-value="days"
        label="Days"
        :min="1"
        :max="365"
        @update:model-value="(n: number | null) => n && set({ opens: { when: 'daysAfterStart', days: n } })"
      />
      <DayInput
        v-if="content.opens.when === 'date'"
        :model-value="date"
        label="Date"
        @update:model-value="(day: string | null) => day && set({ opens: { when: 'date', date: day } })"
      />
      <LessonOrder v-if="course" :key="course.id" :course="course" :page="view.id" />
    </template>

    <h3>When somebody shares it</h3>
    <v-text-field
      :model-value="content.sharing.title"
      label="Title"
      :placeholder="content.title"
      @update:model-value="(title: string) => setSharing({ title })"
    />
    <v-textarea
      :model-value="content.sharing.words"
      label="Text"
      :placeholder="content.description"
      @update:model-value="(words: string) => setSharing({ words })"
    />
    <PictureInput
      :model-value="content.sharing.picture"
      label="Picture"
      @update:model-value="(picture: number | null) => setSharing({ picture })"
    />
    <PictureInput
      :model-value="content.icon"
      label="Icon of the browser tab, if not the site’s"
      @update:model-value="(icon: number | null) => set({ icon })"
    />
    <v-text-field
      :model-value="content.language"
      label="Language"
      hint="Such as en or en-IE."
      @update:model-value="(language: string) => set({ language })"
    />

    <BeginAgain :editing="editing" :purpose="view.purpose" />

    <h3>Versions</h3>
    <VersionsInput :versions="view.versions" @go-back="goBack" />
    <p v-if="view.usedIn.length" class="soft">Used in {{ view.usedIn.join(', ') }}.</p>
    <ProblemNote :problem="refused" />
    <v-btn size="small" variant="text" color="error" @click="archive(view.state !== 'archived')">
      {{ view.state === 'archived' ? 'Take out of the archive' : 'Archive page' }}
    </v-btn>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  gap: 12px;
}

h3 {
  margin-top: 8px;
  border-top: 1px solid var(--rule);
  padding-top: 12px;
}

.page > .v-btn {
  justify-self: start;
}
</style>
