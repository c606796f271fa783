<script setup lang="ts">
import { computed } from 'vue'
import { freshBlock, kindsIn, traitsOf, type BlockKind } from '../../core/blocks/block.ts'
import { freshSection } from '../../core/blocks/document.ts'
import type { Medium } from '../../core/blocks/kinds/blockKind.ts'
import { copyPart, type Part, type Place } from '../../core/blocks/operations.ts'
import AddDialog from './AddDialog.vue'
import { newPartId } from './editing.ts'
import { useSite } from './site.ts'

/** A short list of what can be added at a place, searched by typing. */
const props = defineProps<{ at: Place | null; medium: Medium }>()
const emit = defineEmits<{ insert: [part: Part, at: Place]; close: [] }>()
const open = computed({ get: () => props.at !== null, set: (wanted) => !wanted && emit('close') })
const library = useSite()

interface Choice {
  title: string
  foundBy: string
  make: () => Part
}

const columnChoices: { title: string; shares: number[] }[] = [
  { title: 'section', shares: [1] },
  { title: 'section of two columns', shares: [1, 1] },
  { title: 'section of two columns, the left one wider', shares: [2, 1] },
  { title: 'section of two columns, the right one wider', shares: [1, 2] },
  { title: 'section of three columns', shares: [1, 1, 1] },
  { title: 'section of four columns', shares: [1, 1, 1, 1] },
]

const blockChoice = (kind: BlockKind): Choice => ({
  title: traitsOf(kind).name,
  foundBy: traitsOf(kind).alsoFoundBy,
  make: () => freshBlock(kind, newPartId()),
})

const choices = computed((): Choice[] =>
  props.at?.column === null
    ? [
        ...columnChoices.map(({ title, shares }) => ({
          title,
          foundBy: 'columns',
          make: () => freshSection(newPartId, shares),
        })),
        ...(library.site?.savedSections ?? []).map(({ name, section }) => ({
          title: name,
          foundBy: 'saved section',
          make: () => copyPart(section, newPartId),
        })),
      ]
    : kindsIn(props.medium).map(blockChoice),
)

function choose(choice: Choice): void {
  if (props.at) emit('insert', choice.make(), props.at)
}
</script>

<template>
  <AddDialog v-model="open" title="Add" label="What to add" :choices="choices" @choose="choose" />
</template>
