<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ChoiceToggle from '../frame/ChoiceToggle.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import NewRehearsalPerson from '../followups/NewRehearsalPerson.vue'
import { useLoaded } from '../loading.ts'
import StageColumn from './StageColumn.vue'

/** A funnel tried by people who are made up, up to three beside each other: each on the real pages, with a clock of their own. */
const props = defineProps<{ id: number }>()
const params = { id: props.id }
const most = 3
const {
  data: funnel,
  problem,
  reload,
} = useLoaded((signal) => call(api.funnels.view, { params, signal }), ['funnels', 'pages'])
const { data: people, problem: nobodyFound } = useLoaded(
  (signal) => call(api.people.find, { body: { rehearsal: 'only', sort: 'name', size: 200 }, signal }),
  ['audience'],
)
const paths = computed(() =>
  (funnel.value?.stations ?? []).flatMap((station) =>
    [station.url, station.other?.url].flatMap((url) =>
      url?.includes('/p/') ? [url.split('/p/')[1] ?? ''] : [],
    ),
  ),
)
const on = ref<number[]>([])
const width = ref<'wide' | 'phone'>('wide')
const isOpen = computed(() => funnel.value?.state === 'live' || funnel.value?.rehearsing === true)

const { refused, busy, attempt } = useAttempts()
const open = (): Promise<boolean> =>
  attempt(async () => {
    await call(api.funnels.open, { params, body: { to: 'rehearsal' } })
    await reload()
  })

const adding = ref(false)
const put = (person: number): void => {
  on.value = [...on.value, person].slice(-most)
}
</script>

<template>
  <div class="screen">
    <ProblemNote :problem="problem ?? nobodyFound ?? refused" />
    <template v-if="funnel && people">
      <div class="screen-head">
        <h1>Rehearsal of {{ funnel.name }}</h1>
        <v-btn variant="text" size="small" :to="`/funnels/${id}`">Back to the line</v-btn>
        <span class="grow" />
        <ChoiceToggle v-model="width" label="Their screen" :choices="{ wide: 'Wide', phone: 'Phone' }" />
        <v-select
          v-model="on"
          class="people"
          :items="people.rows.map((row) => ({ value: row.id, title: row.name || row.address }))"
          label="On the stage, up to three"
          multiple
          chips
          closable-chips
          :disabled="!isOpen"
          :item-props="
            ({ value }: { value: number }) => ({ disabled: on.length >= most && !on.includes(value) })
          "
        />
        <v-btn
          variant="outlined"
          size="small"
          :disabled="!isOpen || on.length >= most"
          @click="adding = true"
        >
          New person
        </v-btn>
      </div>
      <section v-if="!isOpen" class="panel closed" aria-labelledby="closed">
        <h2 id="closed">Nobody can see it yet</h2>
        <p>
          Open it to rehearsal: its pages, form, emails and follow-ups are published, and its new pages show
          themselves to people in rehearsal only. Everybody else sees them once it goes live.
        </p>
        <v-btn color="primary" :loading="busy" @click="open">Open it to rehearsal</v-btn>
      </section>
      <section v-else-if="!on.length" class="panel closed" aria-labelledby="choose">
        <h2 id="choose">Who tries it?</h2>
        <p class="soft">
          Choose somebody in rehearsal, or make one. Several stand beside each other, so that one sees both
          lanes of a branch. Their mail goes to the test inbox, and none of it counts.
        </p>
        <div class="buttons">
          <v-btn
            v-for="row in people.rows.slice(0, 6)"
            :key="row.id"
            variant="outlined"
            size="small"
            @click="put(row.id)"
            >{{ row.name || row.address }}</v-btn
          >
          <v-btn variant="text" size="small" @click="adding = true">Somebody new</v-btn>
        </div>
      </section>
      <div v-else class="columns" :style="{ '--columns': on.length }">
        <StageColumn
          v-for="person in on"
          :id="person"
          :key="person"
          :paths="paths"
          :width="width"
          :alone="on.length === 1"
          @leave="on = on.filter((each) => each !== person)"
        />
      </div>
      <NewRehearsalPerson
        v-if="adding"
        v-model="adding"
        submit-label="Put on the stage"
        :agreed="false"
        @made="put"
      />
    </template>
    <p v-else-if="!problem" class="soft">Loading…</p>
  </div>
</template>

<style scoped>
.people {
  max-width: 420px;
}

.closed {
  max-width: 620px;
  padding: 20px;
}

.closed p {
  margin: 8px 0 16px;
}

.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.columns {
  display: grid;
  grid-template-columns: repeat(var(--columns), minmax(0, 1fr));
  gap: 12px;
  align-items: start;
}

@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
