<script setup lang="ts">
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import OpeningNote from '../blocks/OpeningNote.vue'
import { useOpenThing } from '../blocks/openThing.ts'
import FollowupDesk from './FollowupDesk.vue'

/** Opens a follow-up to be edited, with all that its editor draws and chooses from. */
const props = defineProps<{ id: number }>()
const { view, problem, edition, reload } = useOpenThing(() =>
  call(api.followups.view, { params: { id: props.id } }),
)
</script>

<template>
  <FollowupDesk v-if="view" :key="edition" :view="view" @reload="reload" />
  <OpeningNote v-else title="Follow-up" :problem="problem" />
</template>
