<script setup lang="ts">
import { computed } from 'vue'
import { asksWords } from '../../core/capture/describeForm.ts'
import { freshField, type FieldPlace } from '../../core/capture/formEdits.ts'
import type { Asks, FormField } from '../../core/capture/form.ts'
import AddDialog from '../blocks/AddDialog.vue'
import { newPartId } from '../blocks/editing.ts'
import { useSite } from '../blocks/site.ts'

/** A short list of what a form can ask for, searched by typing. */
const props = defineProps<{ at: FieldPlace | null }>()
const emit = defineEmits<{ insert: [field: FormField, at: FieldPlace]; close: [] }>()
const library = useSite()
const open = computed({ get: () => props.at !== null, set: (wanted) => !wanted && emit('close') })

interface Choice {
  title: string
  make: (id: string) => FormField
}

const choices = computed((): Choice[] => {
  const kinds = (Object.keys(asksWords) as Asks[]).filter((asks) => asks !== 'own')
  const own = (library.site?.fields ?? []).map(({ id, name }): Choice => ({
    title: name,
    make: (part) => ({ ...freshField('own', part), label: name, field: id }) as FormField,
  }))
  return [
    ...kinds.map((asks): Choice => ({ title: asksWords[asks], make: (id) => freshField(asks, id) })),
    ...own,
  ]
})

function choose(choice: Choice): void {
  if (props.at) emit('insert', choice.make(newPartId()), props.at)
}
</script>

<template>
  <AddDialog v-model="open" title="Add a field" label="What to ask for" :choices="choices" @choose="choose" />
</template>
