<script setup lang="ts">
import { useNow } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { z } from 'zod'
import * as api from '../../../contract/api.ts'
import { againRequest, type BroadcastView } from '../../../contract/broadcasts.ts'
import { call } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import { useForm } from '../../form.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import QuickDialog from '../../frame/QuickDialog.vue'
import StateMark from '../../frame/StateMark.vue'
import { useLoaded } from '../../loading.ts'
import { rateOf } from '../../rate.ts'
import { countOf, peopleOf, whenOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'
import LeftOutList from './LeftOutList.vue'
import { can, stateMarks } from './states.ts'
import VariantTable from './VariantTable.vue'

/** One broadcast from the press of the button to its numbers. */
const props = defineProps<{ id: number }>()
const session = useSession()
const router = useRouter()
/** The minute in which it can be called back is counted down. */
const now = useNow({ interval: 500 })
const nowIso = computed(() => now.value.toISOString())
const params = { id: props.id }

const { data, problem } = useLoaded(
  (signal) => call(api.broadcasts.view, { params, signal }),
  ['email', 'work'],
)
const { refused, busy, attempt } = useAttempts()

type Plain = 'callBack' | 'hurry' | 'pause' | 'resume' | 'stop'
const stopping = ref(false)
async function steer(does: Plain): Promise<void> {
  if (await attempt(() => call(api.broadcasts[does], { params }))) stopping.value = false
}
const decide = (variant: number): Promise<boolean> =>
  attempt(() => call(api.broadcasts.decide, { params, body: { variant } }))

const again = ref(false)
const form = useForm(z.object(againRequest.shape), { subject: '' })
async function sendAgain(): Promise<void> {
  const sent = await form.submit(async (body) => {
    const { id } = await call(api.broadcasts.again, { params, body })
    await router.push(`/outbox/broadcasts/${id}`)
  })
  if (sent) again.value = false
}

const all = ({ queued, sent, held, failed }: BroadcastView): number => queued + sent + held + failed
const left = computed(() =>
  data.value ? Math.max(0, Math.ceil((Date.parse(data.value.goesAt) - now.value.getTime()) / 1000)) : 0,
)
const numbers = computed(() => {
  const it = data.value
  if (!it) return []
  return [
    { name: 'Sent', count: it.sent, rate: null },
    { name: 'Opened', count: it.opened, rate: rateOf(it.opened, it.sent) },
    { name: 'Clicked', count: it.clicked, rate: rateOf(it.clicked, it.sent) },
    { name: 'Waiting', count: it.queued, rate: null },
    { name: 'Held back', count: it.held, rate: null },
    { name: 'Rejected', count: it.failed, rate: null },
  ]
})
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>{{ data?.email ?? 'Broadcast' }}</h1>
      <StateMark v-if="data" :tone="stateMarks[data.state].tone">{{
        stateMarks[data.state].words
      }}</StateMark>
      <span class="grow" />
      <template v-if="data">
        <v-btn v-if="can(data.state, 'hurry')" variant="text" :disabled="busy" @click="steer('hurry')">
          Send at once
        </v-btn>
        <v-btn v-if="can(data.state, 'pause')" variant="outlined" :disabled="busy" @click="steer('pause')">
          Pause
        </v-btn>
        <v-btn v-if="can(data.state, 'resume')" color="primary" :disabled="busy" @click="steer('resume')">
          Resume
        </v-btn>
        <v-btn v-if="can(data.state, 'stop')" variant="outlined" :disabled="busy" @click="stopping = true">
          Stop
        </v-btn>
        <v-btn
          v-if="can(data.state, 'callBack')"
          color="secondary"
          :disabled="busy"
          @click="steer('callBack')"
        >
          {{ data.state === 'planned' ? 'Cancel this broadcast' : 'Call back' }}
        </v-btn>
        <v-btn
          v-if="can(data.state, 'again') && data.againOf === null && !data.wasSentAgain"
          variant="outlined"
          @click="again = true"
        >
          Send again to who did not open
        </v-btn>
      </template>
    </div>
    <ProblemNote :problem="refused ?? problem" />
    <div v-if="data" class="columns">
      <div class="parts">
        <section class="panel" aria-label="Progress">
          <div class="body">
            <p v-if="data.state === 'calling'" class="countdown" role="timer">
              Goes out in <strong class="figures">{{ left }} s</strong>. Until then you can call it back, and
              nobody gets it.
            </p>
            <p v-else-if="data.state === 'planned'">
              Goes out <strong class="figures">{{ whenOf(data.goesAt, session.zone, nowIso) }}</strong>
              {{ data.readerZone ? 'wherever each reader is' : `(${session.zone})` }}, to whoever is meant by
              then.
            </p>
            <p v-else-if="data.said">{{ data.said }}</p>
            <v-progress-linear
              v-if="all(data) > 0"
              :model-value="(100 * (all(data) - data.queued)) / all(data)"
              height="8"
              rounded
              color="success"
              :aria-label="`${countOf(all(data) - data.queued)} of ${countOf(all(data))} done`"
            />
            <dl class="numbers">
              <div v-for="each in numbers" :key="each.name">
                <dt>{{ each.name }}</dt>
                <dd class="figures">{{ countOf(each.count) }}</dd>
                <dd v-if="each.rate" class="soft" :title="each.rate.interval">{{ each.rate.words }}</dd>
              </div>
            </dl>
            <p class="soft">Opens are a hint: some mailboxes load pictures by themselves, others never.</p>
          </div>
        </section>
        <VariantTable v-if="data.test" :broadcast="data" :busy="busy" @decide="decide" />
      </div>
      <aside class="panel" aria-label="What and to whom">
        <h2>What and to whom</h2>
        <div class="body">
          <p>
            <router-link :to="`/library/emails/${data.emailId}`">{{ data.email }}</router-link> (<router-link
              :to="`/library/emails/${data.emailId}/report`"
              >report</router-link
            >) to {{ data.sentence
            }}<template v-if="data.topic">
              who agreed to <v-chip>{{ data.topic }}</v-chip></template
            >
          </p>
          <p class="soft">by {{ data.by }}, {{ whenOf(data.createdAt, session.zone, nowIso) }}</p>
          <p v-if="data.againOf !== null">
            Sent again after
            <router-link :to="`/outbox/broadcasts/${data.againOf}`">the first time</router-link>
          </p>
          <template v-if="data.leftOut.length">
            <h3>Left out</h3>
            <LeftOutList :left-out="data.leftOut" />
          </template>
        </div>
      </aside>
    </div>
    <QuickDialog
      v-model="stopping"
      :title="`Stop “${data?.email}”?`"
      submit-label="Stop broadcast"
      destructive
      :problem="refused"
      :busy="busy"
      @submit="steer('stop')"
    >
      <p>
        {{ peopleOf(data?.queued ?? 0) }} have not got it yet, and will not. What was sent stays sent; the
        journal of everybody else says that you stopped it.
      </p>
    </QuickDialog>
    <QuickDialog
      v-model="again"
      title="Send again to who did not open"
      submit-label="Send again"
      :problem="form.problem"
      :busy="form.busy"
      @submit="sendAgain"
    >
      <p>The same email under another subject, once, to those who neither opened nor clicked it.</p>
      <v-text-field v-bind="form.field('subject')" label="New subject" />
    </QuickDialog>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 1fr 360px;
  gap: 16px;
  align-items: start;
}

.parts {
  display: grid;
  gap: 16px;
}

.body {
  display: grid;
  gap: 12px;
  padding: 12px 16px 16px;
}

p,
h3 {
  margin: 0;
}

.countdown {
  font-size: 18px;
}

.numbers {
  display: grid;
  grid-template-columns: repeat(6, 1fr);
  margin: 0;
}

.numbers dt {
  color: var(--ink-soft);
}

.numbers dd {
  margin: 0;
}

.numbers dd.figures {
  font-size: 24px;
}

@media (width < 900px) {
  .columns {
    grid-template-columns: 1fr;
  }

  .numbers {
    grid-template-columns: repeat(3, 1fr);
  }
}
</style>
