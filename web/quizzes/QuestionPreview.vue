<script setup lang="ts">
import { onMounted, ref, useTemplateRef, watch } from 'vue'
import type { PageContext } from '../../core/pages/context.ts'
import { pageStyle, sheetStyle } from '../../core/pages/style.ts'
import { questionHtml, quizStyle } from '../../core/quizzes/quizHtml.ts'
import type { QuizQuestion } from '../../core/quizzes/quiz.ts'

/** A question as visitors meet it, drawn by the functions of the public site. */
const props = defineProps<{ question: QuizQuestion; place: number; of: number; context: PageContext }>()
const frame = useTemplateRef<HTMLIFrameElement>('frame')
const height = ref(260)

function draw(): void {
  const page = frame.value?.contentDocument
  const view = page?.defaultView
  if (!page || !view) return
  const sheet = new view.CSSStyleSheet()
  sheet.replaceSync(
    `${pageStyle(props.context.brand, [quizStyle], new Set())}${sheetStyle}.ask{padding:18px 18px 22px}`,
  )
  page.adoptedStyleSheets = [sheet]
  page.documentElement.lang = 'en'
  page.title = 'The question as visitors see it'
  page.body.innerHTML = questionHtml(
    {
      question: props.question,
      given: {},
      seed: '',
      place: props.place,
      of: props.of,
      action: '#',
      back: null,
      fault: null,
    },
    { ...props.context, editing: false },
  ).markup
  // It is looked at: nothing is answered here.
  for (const each of page.querySelectorAll<HTMLElement>('input,textarea,button,a')) each.tabIndex = -1
  height.value = page.body.scrollHeight
}

onMounted(() => {
  const page = frame.value?.contentDocument
  const view = page?.defaultView
  if (!page || !view) return
  page.addEventListener('click', (event) => event.preventDefault())
  page.addEventListener('submit', (event) => event.preventDefault())
  new view.ResizeObserver(() => (height.value = page.body.scrollHeight)).observe(page.body)
  draw()
})
watch(() => [props.question, props.place, props.of, props.context], draw)
</script>

<template>
  <iframe ref="frame" title="The question as visitors see it" :style="{ height: `${height}px` }" />
</template>

<style scoped>
iframe {
  display: block;
  width: 100%;
  border: 1px solid var(--rule);
  background: #fff;
}
</style>
