<script setup lang="ts">
import type { EnrolmentView } from '../../contract/followups.ts'
import { whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'

/** What comes next for somebody in rehearsal, follow-up by follow-up. */
defineProps<{ inside: readonly EnrolmentView[]; now: string }>()
const session = useSession()
</script>

<template>
  <ul>
    <li v-for="each in inside" :key="each.id">
      <span v-if="each.dueAt" class="figures soft">{{ whenOf(each.dueAt, session.zone, now) }}</span>
      {{ each.next ?? 'moves on' }}
      <router-link :to="`/follow-ups/${each.followup.id}`">{{ each.followup.name }}</router-link>
    </li>
    <li v-if="!inside.length" class="soft">
      Nothing. Send a form of a page as them, or let them into a follow-up.
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 8px 16px;
}
</style>
