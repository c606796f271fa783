<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import * as api from '../../../contract/api.ts'
import type { SelectionInput } from '../../../contract/audience/people.ts'
import { call } from '../../api.ts'
import { useLoaded } from '../../loading.ts'
import { peopleOf } from '../../wording.ts'
import { audienceTree, useChosenPeople, type AudiencePart } from './audience.ts'

/** Whom an email goes to: segments and tags less others, or those who were chosen on another screen. */
const who = defineModel<SelectionInput>({ required: true })

const store = useChosenPeople()
const chosen = ref(store.chosen)
store.chosen = null

const { data: segments } = useLoaded((signal) => call(api.segments.list, { signal }), ['audience'])
const { data: tags } = useLoaded((signal) => call(api.tags.list, { signal }), ['audience'])

interface Item {
  title: string
  value: string
  props: { subtitle: string }
}
const itemOf = (kind: AudiencePart['kind'], { id, name }: { id: number; name: string }): Item => ({
  title: name,
  value: `${kind} ${id}`,
  props: { subtitle: kind },
})
const items = computed(() => [
  ...(segments.value ?? []).map((each) => itemOf('segment', each)),
  ...(tags.value ?? []).map((each) => itemOf('tag', each)),
])
const partOf = (value: string): AudiencePart => {
  const [kind, id] = value.split(' ')
  return { kind: kind === 'segment' ? 'segment' : 'tag', id: Number(id) }
}

const to = ref<string[]>([])
const except = ref<string[]>([])
const search = ref('')
watch(
  [to, except, search, chosen],
  () => {
    const outside = audienceTree([], except.value.map(partOf))
    if (chosen.value) {
      const { who: there } = chosen.value
      const inside = there.tree ?? null
      const tree = inside && outside ? ({ kind: 'all', of: [inside, outside] } as const) : (inside ?? outside)
      who.value = { ...there, tree }
    } else {
      who.value = { search: search.value, tree: audienceTree(to.value.map(partOf), except.value.map(partOf)) }
    }
  },
  { immediate: true },
)
</script>

<template>
  <div class="who">
    <div v-if="chosen" class="chosen">
      <v-chip closable close-label="Choose other people" @click:close="chosen = null">
        {{ peopleOf(chosen.people) }} chosen in People
      </v-chip>
    </div>
    <template v-else>
      <v-autocomplete
        v-model="to"
        label="To anybody in"
        :items="items"
        multiple
        chips
        closable-chips
        placeholder="Everybody"
        persistent-placeholder
        hint="Segments and tags; without any it goes to everybody who may get it"
        persistent-hint
      />
      <v-text-field v-model.trim="search" label="Name or address contains" clearable />
    </template>
    <v-autocomplete
      v-model="except"
      label="Except"
      :items="items"
      multiple
      chips
      closable-chips
      placeholder="Nobody"
      persistent-placeholder
    />
  </div>
</template>

<style scoped>
.who {
  display: grid;
  gap: 12px;
}
</style>
