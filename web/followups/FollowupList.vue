<script setup lang="ts">
import { computed, ref } from 'vue'
import { followupList } from '../../contract/followups.ts'
import { read } from '../api.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { countOf, whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import FollowupState from './FollowupState.vue'

const session = useSession()
const { data, problem } = useLoaded((signal) => read('/followups', followupList, signal), ['followups'])

const typed = ref('')
const rows = computed(() =>
  (data.value ?? []).filter(({ name }) => name.toLowerCase().includes(typed.value.trim().toLowerCase())),
)
const now = computed(() => new Date().toISOString())
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Follow-ups</h1>
      <span class="grow" />
      <v-text-field v-model="typed" label="Part of a name" max-width="260" />
    </div>
    <ProblemNote :problem="problem" />
    <div class="panel">
      <table class="list">
        <thead>
          <tr>
            <th>Name</th>
            <th>State</th>
            <th>Starts when</th>
            <th class="number">Steps</th>
            <th class="number">Inside now</th>
            <th class="number">Been through</th>
            <th>Next departure</th>
          </tr>
        </thead>
        <tbody>
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
        </tbody>
      </table>
      <p v-if="data && !rows.length" class="none">No follow-up is called that.</p>
    </div>
  </div>
</template>
