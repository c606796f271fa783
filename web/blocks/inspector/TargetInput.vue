<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { target as targetShape, type Target, type TargetKind } from '../../../core/blocks/target.ts'
import { useSite } from '../site.ts'

/** Where something leads: a page, a file, an address, or nowhere yet. */
const props = withDefaults(
  defineProps<{
    label: string
    /** What can be chosen; everything without. */ only?: readonly TargetKind[]
  }>(),
  { only: undefined },
)
const target = defineModel<Target>({ required: true })
const library = useSite()

const all: { title: string; value: TargetKind }[] = [
  { title: 'Nowhere yet', value: 'nowhere' },
  { title: 'Next step of the funnel', value: 'nextStep' },
  { title: 'A page', value: 'page' },
  { title: 'A file', value: 'file' },
  { title: 'A pop-up', value: 'popUp' },
  { title: 'A web address', value: 'web' },
  { title: 'A path here', value: 'path' },
  { title: 'A named link', value: 'link' },
  { title: 'A quiz', value: 'quiz' },
  { title: 'A junction', value: 'junction' },
  { title: 'A product, where it is sold', value: 'product' },
  { title: 'Their cart, as they left it', value: 'cart' },
]
const kinds = computed(() =>
  all.filter(({ value }) => value === 'nowhere' || (props.only?.includes(value) ?? true)),
)
const kind = ref<TargetKind>(target.value.to)
const typed = ref('')
const fault = ref('')
watch(
  target,
  (to) => {
    kind.value = to.to
    if (to.to === 'web') typed.value = to.url
    if (to.to === 'path') typed.value = to.path
  },
  { immediate: true },
)

function chooseKind(next: TargetKind): void {
  kind.value = next
  fault.value = ''
  typed.value = ''
  if (next === 'nowhere' || next === 'nextStep' || next === 'cart') target.value = { to: next }
}

function type(text: string): void {
  typed.value = text
  const read = targetShape.safeParse(
    kind.value === 'web' ? { to: 'web', url: text.trim() } : { to: 'path', path: text.trim() },
  )
  fault.value = read.success ? '' : (read.error.issues[0]?.message ?? '')
  if (read.success) target.value = read.data
}

/** Things of the Library to choose from, those marked that nobody can be sent to yet. */
const liveOrNot = (
  things: readonly { id: number; name: string; live: boolean }[] = [],
): { value: number; title: string }[] =>
  things.map(({ id, name, live }) => ({ value: id, title: live ? name : `${name} (not live)` }))

const page = computed({
  get: () => (target.value.to === 'page' ? target.value.page : null),
  set: (id: number | null) => id !== null && (target.value = { to: 'page', page: id }),
})
const file = computed({
  get: () => (target.value.to === 'file' ? target.value.file : null),
  set: (id: number | null) => id !== null && (target.value = { to: 'file', file: id }),
})
const link = computed({
  get: () => (target.value.to === 'link' ? target.value.link : null),
  set: (id: number | null) => id !== null && (target.value = { to: 'link', link: id }),
})
const links = computed(() =>
  (library.site?.namedLinks ?? []).map(({ id, name }) => ({ value: id, title: name })),
)
const popUp = computed({
  get: () => (target.value.to === 'popUp' ? target.value.popUp : null),
  set: (id: number | null) => id !== null && (target.value = { to: 'popUp', popUp: id }),
})
const popUps = computed(() => liveOrNot(library.site?.popUps))
const quiz = computed({
  get: () => (target.value.to === 'quiz' ? target.value.quiz : null),
  set: (id: number | null) => id !== null && (target.value = { to: 'quiz', quiz: id }),
})
const quizzes = computed(() => liveOrNot(library.site?.quizzes))
const junction = computed({
  get: () => (target.value.to === 'junction' ? target.value.junction : null),
  set: (id: number | null) => id !== null && (target.value = { to: 'junction', junction: id }),
})
const junctions = computed(() => liveOrNot(library.site?.junctions))
const product = computed({
  get: () => (target.value.to === 'product' ? target.value.product : null),
  set: (id: number | null) => id !== null && (target.value = { to: 'product', product: id }),
})
const products = computed(() => liveOrNot(library.site?.products))
const pages = computed(() => liveOrNot(library.site?.pages))
const files = computed(() => (library.site?.files ?? []).map(({ id, name }) => ({ value: id, title: name })))
</script>

<template>
  <div class="target">
    <v-select :label="label" :items="kinds" :model-value="kind" @update:model-value="chooseKind" />
    <v-autocomplete v-if="kind === 'page'" v-model="page" label="Page" :items="pages" />
    <v-autocomplete v-if="kind === 'file'" v-model="file" label="File" :items="files" />
    <v-autocomplete v-if="kind === 'popUp'" v-model="popUp" label="Pop-up" :items="popUps" />
    <v-autocomplete v-if="kind === 'quiz'" v-model="quiz" label="Quiz" :items="quizzes" />
    <v-autocomplete v-if="kind === 'junction'" v-model="junction" label="Junction" :items="junctions" />
    <v-autocomplete v-if="kind === 'product'" v-model="product" label="Product" :items="products" />
    <v-autocomplete v-if="kind === 'link'" v-model="link" label="Named link" :items="links" />
    <v-text-field
      v-if="kind === 'web' || kind === 'path'"
      :model-value="typed"
      :label="kind === 'web' ? 'Address' : 'Path'"
      :placeholder="kind === 'web' ? 'https://example.com' : '/p/thank-you'"
      :error-messages="fault"
      @update:model-value="type"
    />
  </div>
</template>

<style scoped>
.target {
  display: grid;
  gap: 8px;
}
</style>
