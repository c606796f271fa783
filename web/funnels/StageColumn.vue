<script setup lang="ts">
import { computed, ref } from 'vue'
import PersonJournal from '../audience/people/PersonJournal.vue'
import StageMailbox from '../followups/StageMailbox.vue'
import StageNext from '../followups/StageNext.vue'
import StagePages from '../followups/StagePages.vue'
import StartOver from '../followups/StartOver.vue'
import { useStagePerson } from '../followups/stagePerson.ts'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'

/** One person on the stage of a funnel: what they see, and what the system did for them and why. */
const props = defineProps<{
  id: number
  /** The paths of the funnel's pages, in order. */
  paths: readonly string[]
  width: 'wide' | 'phone'
  /** Nobody stands beside them: what the system did has a pane of its own. */
  alone: boolean
}>()
defineEmits<{ leave: [] }>()
const session = useSession()
const { person, stage, problem, inside, clock } = useStagePerson(props.id)
const { refused, goingTo, go } = clock
const seen = ref<'pages' | 'mail'>('pages')
const startingOver = ref(false)
/** Only the funnel's own pages, as its line has them. */
const pages = computed(() =>
  props.paths.flatMap((path) => stage.value?.pages.filter(({ url }) => url.startsWith(`/p/${path}?`)) ?? []),
)
</script>

<template>
  <section
    class="column"
    :class="{ alone }"
    :aria-label="person?.name || person?.address || 'Somebody in rehearsal'"
  >
    <ProblemNote :problem="problem ?? refused" />
    <template v-if="person && stage">
      <div class="panel who">
        <router-link :to="`/people/${id}`"
          ><strong>{{ person.name || person.address }}</strong></router-link
        >
        <span class="figures">{{ whenOf(person.now, session.zone, new Date(0).toISOString()) }}</span>
        <span class="grow" />
        <v-btn
          size="small"
          color="primary"
          :loading="goingTo === ''"
          :disabled="goingTo !== null"
          @click="go()"
        >
          Jump to next
        </v-btn>
        <v-btn size="small" variant="text" @click="startingOver = true">Start over…</v-btn>
        <v-btn size="small" variant="text" @click="$emit('leave')">Leave</v-btn>
      </div>
      <div class="panel sees">
        <div class="panel-head">
          <h2>What they see</h2>
          <ChoiceToggle v-model="seen" label="What they see" :choices="{ pages: 'Pages', mail: 'Mailbox' }" />
        </div>
        <StagePages v-if="seen === 'pages'" :pages="pages" :width="width" :person="person" />
        <StageMailbox v-else :mail="stage.mail" :problem="stage.mailProblem" :now="person.now" />
      </div>
      <div class="log">
        <section class="panel" :aria-labelledby="`next-${id}`">
          <div class="panel-head"><h2 :id="`next-${id}`">Next for them</h2></div>
          <StageNext :inside="inside" :now="person.now" />
        </section>
        <PersonJournal :lines="person.journal" :now="person.now" />
      </div>
      <StartOver v-if="startingOver" :person="person" @close="startingOver = false" />
    </template>
    <p v-else-if="!problem" class="soft">Loading…</p>
  </section>
</template>

<style scoped>
.column {
  display: grid;
  gap: 12px;
  align-content: start;
  min-width: 0;
}

.alone {
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
}

.alone > .who {
  grid-column: 1 / -1;
}

.who {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  padding: 8px 16px;
  border-top: 3px solid var(--lamp);
}

.log {
  display: grid;
  gap: 12px;
  align-content: start;
  min-width: 0;
}

@media (max-width: 1000px) {
  .alone {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
