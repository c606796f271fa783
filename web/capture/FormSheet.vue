<script setup lang="ts">
import { onMounted, ref, useTemplateRef, watch } from 'vue'
import { formHtml, formStyle } from '../../core/capture/formHtml.ts'
import type { Done, ShownForm } from '../../core/capture/shownForm.ts'
import type { PageContext } from '../../core/pages/context.ts'
import { pageStyle, sheetStyle } from '../../core/pages/style.ts'

/** What the sheet shows: the form, or what takes its place once it was sent. */
export type Shown = 'form' | Done['is']

/** A form as visitors see it, in a frame of its own, drawn by the functions of the public site. */
const props = defineProps<{
  form: ShownForm
  context: PageContext
  shown: Shown
  step: number
  selected: string | null
}>()
const emit = defineEmits<{ select: [id: string | null] }>()
const frame = useTemplateRef<HTMLIFrameElement>('frame')
const height = ref(400)

const chosenStyle = `body{padding:24px}.part{padding:4px 6px;margin:0 -6px;cursor:pointer}.part:hover{outline:1px solid #0E5A6B66}.part.chosen{outline:2px solid #0E5A6B}`

function stateOf({ shown, step }: typeof props): PageContext['form'] {
  const state = { block: 'sheet', values: {}, faults: {}, step }
  switch (shown) {
    case 'form':
      return state
    case 'sent':
      return { ...state, done: { is: 'sent' } }
    case 'waiting':
      return { ...state, done: { is: 'waiting', again: '#' } }
  }
}

function draw(): void {
  const page = frame.value?.contentDocument
  const view = page?.defaultView
  if (!page || !view) return
  const sheet = new view.CSSStyleSheet()
  sheet.replaceSync(pageStyle(props.context.brand, [formStyle], new Set()) + sheetStyle + chosenStyle)
  page.adoptedStyleSheets = [sheet]
  page.documentElement.lang = 'en'
  page.title = 'The form as visitors see it'
  page.body.innerHTML = formHtml(
    'sheet',
    props.form,
    { ...props.context, form: stateOf(props) },
    { parts: true },
  ).markup
  // It is looked at, and chosen from: nothing is typed or sent here.
  for (const each of page.querySelectorAll<HTMLElement>('input,select,textarea,button,a')) each.tabIndex = -1
  choose()
}

function choose(): void {
  const page = frame.value?.contentDocument
  if (!page) return
  for (const each of page.querySelectorAll('.chosen')) each.classList.remove('chosen')
  const part = props.selected === null ? null : page.getElementById(`f-${props.selected}`)
  part?.classList.add('chosen')
  part?.scrollIntoView({ block: 'nearest' })
  height.value = page.body.scrollHeight
}

onMounted(() => {
  const page = frame.value?.contentDocument
  const view = page?.defaultView
  if (!page || !view) return
  page.addEventListener('click', (event) => {
    event.preventDefault()
    const part = (event.target as Element | null)?.closest('.part')
    emit('select', part ? part.id.replace(/^f-/, '') : null)
  })
  page.addEventListener('submit', (event) => event.preventDefault())
  new view.ResizeObserver(() => (height.value = page.body.scrollHeight)).observe(page.body)
  draw()
})
watch(() => [props.form, props.context, props.shown, props.step], draw)
watch(() => props.selected, choose)
</script>

<template>
  <iframe ref="frame" title="The form as visitors see it" :style="{ height: `${height}px` }" />
</template>

<style scoped>
iframe {
  display: block;
  width: 100%;
  max-width: 568px;
  margin: 0 auto;
  border: 1px solid var(--rule);
  background: #fff;
}
</style>
