<script setup lang="ts">
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'

/** Clicks that were taken for those of machines. Who knows better has one read again, as the person's. */
const props = defineProps<{ id: number }>()
const open = defineModel<boolean>({ required: true })
const session = useSession()
const now = useNowIso()
const params = { id: props.id }
const { data, problem, reload } = useLoaded(
  (signal) => call(api.emails.machineClicks, { params, signal }),
  ['audience'],
)
const { refused, attempt } = useAttempts()
const read = (click: number): Promise<boolean> =>
  attempt(async () => {
    await call(api.emails.readAsPerson, { params: { ...params, click } })
    await reload()
  })
</script>

<template>
  <v-dialog v-model="open" width="860" aria-label="Clicks by machines">
    <v-card title="Clicks by machines">
      <div class="body">
        <ProblemNote :problem="problem ?? refused" />
        <p class="soft">
          Scanners of mail open every link to look for dangers. They are told by what they say of themselves,
          by how they ask, and by following all links within seconds of delivery. Their clicks count for
          nobody and do nothing.
        </p>
        <v-table v-if="data?.length">
          <thead>
            <tr>
              <th scope="col">Person</th>
              <th scope="col">Link</th>
              <th scope="col">When</th>
              <th scope="col">Told by</th>
              <th scope="col"><span class="visually-hidden">Actions</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="click in data" :key="click.id">
              <th scope="row">
                <router-link :to="`/people/${click.contact}`">{{ click.name }}</router-link>
              </th>
              <td>{{ click.label }}</td>
              <td class="figures">{{ whenOf(click.at, session.zone, now) }}</td>
              <td class="agent">
                {{ click.undecided ? 'it came in haste: known in a moment' : click.agent }}
              </td>
              <td>
                <v-btn
                  size="small"
                  variant="text"
                  color="primary"
                  :aria-label="`It was a person: ${click.name}, ${click.label}`"
                  @click="read(click.id)"
                  >It was a person</v-btn
                >
              </td>
            </tr>
          </tbody>
        </v-table>
        <p v-else>No machine has followed a link of this email.</p>
        <div><v-btn variant="text" @click="open = false">Close</v-btn></div>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.body {
  display: grid;
  gap: 12px;
  padding: 4px 16px 16px;
}

.body p {
  margin: 0;
}

.agent {
  max-width: 260px;
  overflow-wrap: anywhere;
}
</style>
