<script setup lang="ts">
import { computed, ref } from 'vue'
import { followupList } from '../../contract/followups.ts'
import { read } from '../api.ts'
import ListScreen from '../frame/ListScreen.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { countOf, whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import FollowupState from './FollowupState.vue'

const session = useSession()
const { data, problem } = useLoaded((signal) => read('/followups', followupList, signal), ['followups'])

const typed = ref('')
const rows = computed(() =>
  (data.value ?? []).filter(({ name }) => name.toLowerCase().includes(typed.value.trim().toLowerCase())),
)
const now = useNowIso()
</script>

<template>
  <ListScreen
    title="Follow-ups"
    :columns="['Name', 'State', 'Starts when', '#Steps', '#Inside now', '#Been through', 'Next departure']"
    :problem="problem"
    :empty="data !== null && !rows.length"
  >
    <template #action><v-text-field v-model="typed" label="Part of a name" max-width="260" /></template>
    <tr v-for="row in rows" :key="row.id">
      <td>
        <router-link :to="`/follow-ups/${row.id}`">{{ row.name }}</router-link>
      </td>
      <td><FollowupState :state="row.state" /></td>
      <td>{{ row.startsWhen.join(', or ') }}</td>
      <td class="number">{{ row.steps }}</td>
      <td class="number">{{ countOf(row.inside) }}</td>
      <td class="number">{{ countOf(row.finished) }}</td>
      <td class="figures">{{ row.nextDueAt ? whenOf(row.nextDueAt, session.zone, now) : '' }}</td>
    </tr>
    <template #none>No follow-up is called that.</template>
  </ListScreen>
</template>
