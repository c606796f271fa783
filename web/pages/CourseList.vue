<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import type { CourseView } from '../../contract/courses.ts'
import type { Target } from '../../core/blocks/target.ts'
import {
  courseAccess,
  courseContent,
  type CourseAccess,
  type CourseContent,
} from '../../core/pages/course.ts'
import { call } from '../api.ts'
import TargetInput from '../blocks/inspector/TargetInput.vue'
import { useSite } from '../blocks/site.ts'
import { useEditDialog } from '../editDialog.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import EditDialog from '../frame/EditDialog.vue'
import StationTabs from '../frame/StationTabs.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'

/** Courses: their lessons in order, who may see them, and how far people are. */
const library = useSite()
void library.reload()
const { data: courses, problem } = useLoaded(
  (signal) => call(api.courses.list, { signal }),
  ['pages', 'audience'],
)

const fresh = (): CourseContent => courseContent.parse({ name: 'New course' })
const dialog = useEditDialog(courseContent, { ...fresh(), name: '' }, (id, body) =>
  id === null ? call(api.courses.create, { body }) : call(api.courses.save, { params: { id }, body }),
)
const begin = ({ id, name, description, access, others }: CourseView): void =>
  dialog.begin(id, { name, description, access, others })

const accessItems: { title: string; value: CourseAccess['for'] }[] = [
  { title: 'Everybody', value: 'everybody' },
  { title: 'Subscribers', value: 'subscribers' },
  { title: 'Buyers', value: 'buyers' },
]
const access = computed(() => courseAccess.parse(dialog.form.values.access ?? { for: 'everybody' }))
function setFor(who: CourseAccess['for']): void {
  dialog.form.values.access = who === 'subscribers' ? { for: who, topic: null } : { for: who }
}
const topics = computed(() =>
  (library.site?.topics ?? []).map(({ id, name }) => ({ value: id, title: name })),
)
function whose({ access: to }: CourseView): string {
  if (to.for !== 'subscribers') return to.for === 'buyers' ? 'for buyers' : 'for everybody'
  const topic = topics.value.find(({ value }) => value === to.topic)?.title
  return topic === undefined ? 'for subscribers' : `for subscribers of ${topic}`
}
/** How far a lesson's bar reaches: the share of those who began. */
const shareOf = (seen: number, began: number): number => (began === 0 ? 0 : Math.round((100 * seen) / began))
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Courses</h1>
      <StationTabs of="Library" />
      <span class="grow" />
      <v-btn color="secondary" @click="dialog.begin(null, { ...fresh(), name: '' })">New course</v-btn>
    </div>
    <ProblemNote :problem="problem" />
    <div class="courses">
      <section v-for="course in courses ?? []" :key="course.id" class="panel" :aria-label="course.name">
        <div class="head">
          <h2>{{ course.name }}</h2>
          <span class="soft">{{ whose(course) }}</span>
          <span class="grow" />
          <v-btn
            size="small"
            variant="text"
            color="primary"
            :aria-label="`Edit ${course.name}`"
            @click="begin(course)"
          >
            Edit
          </v-btn>
        </div>
        <p v-if="course.description" class="soft">{{ course.description }}</p>
        <dl class="counts">
          <div>
            <dt>Began</dt>
            <dd class="figures">{{ countOf(course.began) }}</dd>
          </div>
          <div>
            <dt>Finished</dt>
            <dd class="figures">{{ countOf(course.finished) }}</dd>
          </div>
          <div v-if="course.access.for === 'buyers'">
            <dt>Bought</dt>
            <dd class="figures">{{ countOf(course.bought) }}</dd>
          </div>
        </dl>
        <ol v-if="course.lessons.length" class="lessons">
          <li v-for="lesson in course.lessons" :key="lesson.page">
            <router-link :to="`/library/pages/${lesson.page}`">{{ lesson.name }}</router-link>
            <span v-if="!lesson.live" class="soft">draft</span>
            <span
              class="bar"
              role="img"
              :aria-label="`${countOf(lesson.seen)} of ${countOf(course.began)} saw it`"
              ><span :style="{ width: `${shareOf(lesson.seen, course.began)}%` }"
            /></span>
            <span class="figures">{{ countOf(lesson.seen) }}</span>
          </li>
        </ol>
        <p v-else class="soft">
          No lessons yet: a page becomes one by its course, chosen where the page is edited.
        </p>
      </section>
      <p v-if="courses && courses.length === 0" class="soft">
        No courses yet. A course is an ordered set of lessons, with who may see them.
      </p>
    </div>
    <EditDialog word="course" :dialog="dialog">
      <v-text-field v-bind="dialog.form.field('name')" label="Name" autofocus />
      <v-textarea v-bind="dialog.form.field('description')" label="Description" rows="2" />
      <v-select
        :model-value="access.for"
        label="Who may see its lessons"
        :items="accessItems"
        :hint="access.for === 'buyers' ? 'Put it into a product, under “What buyers get”.' : undefined"
        persistent-hint
        @update:model-value="setFor"
      />
      <v-select
        v-if="access.for === 'subscribers'"
        :model-value="access.topic"
        label="Of the topic"
        :items="topics"
        clearable
        hint="Any news of yours when empty"
        persistent-hint
        @update:model-value="
          (topic: number | null) => (dialog.form.values.access = { for: 'subscribers', topic })
        "
      />
      <TargetInput
        v-if="access.for !== 'everybody'"
        :model-value="dialog.form.values.others as Target"
        label="Where others are led"
        @update:model-value="(to: Target) => (dialog.form.values.others = to)"
      />
    </EditDialog>
  </div>
</template>

<style scoped>
.courses {
  display: grid;
  gap: 16px;
  max-width: 900px;
}

.panel {
  padding: 14px 18px;
}

.head {
  display: flex;
  align-items: baseline;
  gap: 12px;
}

.head h2,
.panel p {
  margin: 0;
}

.head .grow {
  flex: 1;
}

.counts {
  display: flex;
  gap: 32px;
  margin: 12px 0;
}

.counts dt {
  color: var(--ink-soft);
  font-size: 13px;
}

.counts dd {
  margin: 0;
  font-size: 20px;
}

.lessons {
  list-style: none;
  margin: 0;
  padding: 0;
}

.lessons li {
  display: grid;
  grid-template-columns: 1fr auto 200px 48px;
  gap: 12px;
  align-items: center;
  padding: 7px 0;
  border-top: 1px solid var(--rule);
}

.lessons li > .figures {
  text-align: right;
}

.bar {
  grid-column: 3;
  height: 6px;
  background: var(--rule);
}

.bar span {
  display: block;
  height: 100%;
  background: rgb(var(--v-theme-primary));
}

.lessons li > .figures {
  grid-column: 4;
}
</style>
