<script setup lang="ts">
import { computed, ref } from 'vue'
import { composer } from '../../core/blocks/compose.ts'
import { describeBlock, walk } from '../../core/blocks/walk.ts'
import type { PagePurpose } from '../../core/pages/page.ts'
import { startingPointsFor, withForm } from '../../core/pages/startingPoints.ts'
import { newPartId, type Editing } from '../blocks/editing.ts'
import QuickDialog from '../frame/QuickDialog.vue'

/** Takes another starting point for a page that has been begun: it says what would be lost, and can be undone. */
const props = defineProps<{ editing: Editing; purpose: PagePurpose }>()
const points = computed(() => startingPointsFor(props.purpose))
const asking = ref(false)
const chosen = ref('')

function ask(): void {
  chosen.value = points.value[0]?.id ?? ''
  asking.value = true
}
const written = computed(() =>
  [...walk(props.editing.document.value)].map(({ block }) => `“${describeBlock(block)}”`),
)
const few = 6

function beginAgain(): void {
  const point = points.value.find(({ id }) => id === chosen.value)
  // The form that stands there stays: it is what people signed up by.
  const forms = [...walk(props.editing.document.value)].flatMap(({ block }) =>
    block.kind === 'form' ? [block.form] : [],
  )
  if (point)
    props.editing.replaceAll(withForm(point.document(composer(newPartId)), forms[0] ?? null).sections)
  asking.value = false
}
</script>

<template>
  <v-btn size="small" variant="outlined" @click="ask">Choose another starting point</v-btn>
  <QuickDialog
    v-model="asking"
    title="Choose another starting point"
    submit-label="Begin again"
    :width="560"
    @submit="beginAgain"
  >
    <v-radio-group v-model="chosen" label="Begin from">
      <v-radio
        v-for="point in points"
        :key="point.id"
        :value="point.id"
        :label="`${point.name}: ${point.words}`"
      />
    </v-radio-group>
    <p v-if="written.length">
      These parts go: {{ written.slice(0, few).join(', ')
      }}{{ written.length > few ? ` and ${written.length - few} more` : '' }}. Undo brings them back.
    </p>
  </QuickDialog>
</template>
