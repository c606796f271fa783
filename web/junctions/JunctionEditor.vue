<script setup lang="ts">
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import OpeningNote from '../blocks/OpeningNote.vue'
import { useOpenThing } from '../blocks/openThing.ts'
import JunctionDesk from './JunctionDesk.vue'

/** Opens a junction to be edited, with all that its rules can speak of. */
const props = defineProps<{ id: number }>()
const { view, problem, edition, library, reload } = useOpenThing(() =>
  call(api.junctions.view, { params: { id: props.id } }),
)
</script>

<template>
  <JunctionDesk
    v-if="view && library.site"
    :key="edition"
    :view="view"
    :site="library.site"
    @reload="reload"
  />
  <OpeningNote v-else title="Junction" :problem="problem" />
</template>
