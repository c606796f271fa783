<script setup lang="ts">
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { countOf, whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'

/** What waits, by its moment and by where it comes from. */
const session = useSession()
const now = useNowIso()
const { data, problem } = useLoaded((signal) => call(api.email.outboxQueue, { signal }), ['email'])
</script>

<template>
  <ProblemNote :problem="problem" />
  <section v-if="data?.length" class="panel moments" aria-label="What waits">
    <v-table>
      <thead>
        <tr>
          <th scope="col">Goes out</th>
          <th scope="col">Email</th>
          <th scope="col">From</th>
          <th scope="col" class="number">People</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(each, n) in data" :key="n">
          <td class="when">
            <span v-if="each.waiting">on hold</span>
            <span v-else class="figures">{{ each.at ? whenOf(each.at, session.zone, now) : 'now' }}</span>
          </td>
          <td>{{ each.email }}</td>
          <td>{{ each.from }}</td>
          <td class="figures">{{ countOf(each.people) }}</td>
        </tr>
      </tbody>
    </v-table>
  </section>
</template>

<style scoped>
.moments {
  margin-bottom: 16px;
}

.when {
  width: 180px;
}
</style>
