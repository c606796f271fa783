<script setup lang="ts">
import { nextTick, ref, useTemplateRef, watch } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import * as api from '../../contract/api.ts'
import type { SiteView } from '../../contract/pages.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import { useSite } from '../blocks/site.ts'
import MoveButtons from '../frame/MoveButtons.vue'
import ProblemNote from '../frame/ProblemNote.vue'

type Course = SiteView['courses'][number]

/** The lessons of a course in their order, changed by dragging and by keys. */
const props = defineProps<{ course: Course; page: number }>()
const library = useSite()
const { refused, attempt } = useAttempts()
const list = useTemplateRef<HTMLElement>('list')
const lessons = ref([...props.course.lessons])
watch(
  () => props.course.lessons,
  (now) => (lessons.value = [...now]),
)

async function save(): Promise<void> {
  const pages = lessons.value.map(({ page }) => page)
  await attempt(() => call(api.site.orderLessons, { params: { id: props.course.id }, body: { pages } }))
  // What was refused goes back to where it was.
  await library.reload().catch(() => (lessons.value = [...props.course.lessons]))
}

async function move(index: number, step: -1 | 1): Promise<void> {
  const [lesson] = lessons.value.slice(index, index + 1)
  const to = index + step
  if (!lesson || to < 0 || to >= lessons.value.length) return
  lessons.value.splice(index, 1)
  lessons.value.splice(to, 0, lesson)
  await save()
  await nextTick()
  list.value?.querySelectorAll<HTMLElement>('li')[to]?.focus()
}
</script>

<template>
  <div>
    <p id="lesson-order" class="soft">Order of “{{ course.name }}”: drag, or Alt with the arrow keys.</p>
    <div ref="list">
      <VueDraggable v-model="lessons" tag="ol" :animation="0" aria-labelledby="lesson-order" @update="save">
        <li
          v-for="(lesson, index) in lessons"
          :key="lesson.page"
          tabindex="0"
          :aria-current="lesson.page === page || undefined"
          @keydown.alt.up.prevent="move(index, -1)"
          @keydown.alt.down.prevent="move(index, 1)"
        >
          <span class="words">
            {{ lesson.title }}<span v-if="!lesson.live" class="soft"> (draft)</span>
          </span>
          <MoveButtons
            :name="lesson.title"
            :first="index === 0"
            :last="index === lessons.length - 1"
            @move="(by: -1 | 1) => move(index, by)"
          />
        </li>
      </VueDraggable>
    </div>
    <ProblemNote :problem="refused" />
  </div>
</template>

<style scoped>
p {
  margin: 0 0 4px;
}

ol {
  margin: 0;
  padding-left: 20px;
}

li {
  cursor: grab;
  padding: 2px 4px;
}

li::marker {
  color: var(--ink-soft);
}

li[aria-current] {
  background: color-mix(in srgb, var(--rule) 40%, var(--paper));
}

.words {
  display: inline-block;
  width: calc(100% - 68px);
  vertical-align: middle;
}
</style>
