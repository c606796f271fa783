<script setup lang="ts">
import { computed } from 'vue'
import type { PersonView } from '../../../contract/audience/people.ts'
import * as api from '../../../contract/api.ts'
import type { EnrolmentView } from '../../../contract/followups.ts'
import { call } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import { dayOf, whenOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'

const props = defineProps<{ person: PersonView; enrolments: EnrolmentView[] }>()
const session = useSession()

const inside = computed(() => props.enrolments.filter((each) => each.endedAt === null))
const past = computed(() => props.enrolments.filter((each) => each.endedAt !== null))

const { refused, busy, attempt } = useAttempts()
const jump = () => attempt(() => call(api.people.jump, { params: { id: props.person.id }, body: {} }))
</script>

<template>
  <section class="panel where" aria-labelledby="where">
    <h2 id="where">Follow-ups</h2>
    <div class="body">
      <ProblemNote :problem="refused" />
      <div v-for="each in inside" :key="each.id" class="inside">
        <router-link :to="`/follow-ups/${each.followup.id}`">{{ each.followup.name }}</router-link>
        <p v-if="each.dueAt">
          {{ each.next ?? 'No email' }} next,
          <span class="figures">{{ whenOf(each.dueAt, session.zone, person.now) }}</span>
        </p>
        <p v-else>Working…</p>
      </div>
      <p v-if="!inside.length" class="soft">Not in any follow-up.</p>
      <v-btn v-if="person.rehearsal && inside.length" color="secondary" :loading="busy" @click="jump">
        Jump to next
      </v-btn>
      <template v-if="past.length">
        <h3>Past follow-ups</h3>
        <p v-for="each in past" :key="each.id">
          <router-link :to="`/follow-ups/${each.followup.id}`">{{ each.followup.name }}</router-link>
          <span class="soft">
            until
            <span class="figures">{{ dayOf(each.endedAt ?? each.startedAt, session.zone) }}</span></span
          >
        </p>
      </template>
    </div>
  </section>
</template>

<style scoped>
.body {
  padding: 16px;
}

.inside {
  border-left: 2px solid var(--petrol);
  padding-left: 12px;
  margin-bottom: 12px;
}

.inside a {
  font-weight: 700;
}

h3 {
  margin: 20px 0 4px;
}
</style>
