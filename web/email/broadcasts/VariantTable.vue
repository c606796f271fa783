<script setup lang="ts">
import { computed } from 'vue'
import type { BroadcastView, VariantView } from '../../../contract/broadcasts.ts'
import { chanceOfNoDifference, leading, type TestMeasure } from '../../../core/email/splitTest.ts'
import { useNowIso } from '../../now.ts'
import { rateOf } from '../../rate.ts'
import { countOf, untilOf } from '../../wording.ts'
import { can } from './states.ts'

/** The versions of a split test beside each other, and which of them the rest gets. */
const props = defineProps<{ broadcast: BroadcastView; busy: boolean }>()
defineEmits<{ decide: [variant: number] }>()
const now = useNowIso()

const measures: Record<TestMeasure, { title: string; of: (variant: VariantView) => number }> = {
  opens: { title: 'Opened', of: ({ opened }) => opened },
  clicks: { title: 'Clicked', of: ({ clicked }) => clicked },
  signUps: { title: 'Sent a form', of: ({ signedUp }) => signedUp },
}
const letterOf = (number: number): string => String.fromCharCode(64 + number)
const measure = computed(() => measures[props.broadcast.test?.by ?? 'opens'])
const counts = computed(() =>
  props.broadcast.variants.map((each) => ({
    number: each.number,
    sent: each.sent,
    hits: measure.value.of(each),
  })),
)

/** What can be read of the test by now. */
const read = computed(() => {
  const best = leading(counts.value)
  const others = counts.value.filter(({ number }) => number !== best?.number)
  const second = leading(others)
  if (!best || !second || best.sent === 0 || second.sent === 0) return 'Nothing has been sent yet.'
  const chance = chanceOfNoDifference(best, second)
  const leads = `Version ${letterOf(best.number)} leads.`
  if (chance < 0.05) return `${leads} A difference so great would be chance in fewer than 5 of 100 cases.`
  return `${leads} But a difference like this one would be chance in ${Math.round(chance * 100)} of 100 cases: too few to read.`
})
const said = computed(() => {
  const { test } = props.broadcast
  if (!test) return ''
  if (test.winner !== null)
    return `Version ${letterOf(test.winner)} went to the rest: decided by ${test.decidedBy}.`
  if (!test.decideAt) return ''
  return test.itself
    ? `Decided by itself ${untilOf(test.decideAt, Date.parse(now.value))}.`
    : `To be decided by you ${untilOf(test.decideAt, Date.parse(now.value))}, or earlier.`
})
</script>

<template>
  <section class="panel" aria-labelledby="split-test">
    <h2 id="split-test">Split test</h2>
    <div class="body">
      <p>{{ said }} {{ read }}</p>
      <v-table>
        <thead>
          <tr>
            <th scope="col">Version</th>
            <th scope="col">Subject</th>
            <th scope="col" class="number">Sent</th>
            <th v-for="each in measures" :key="each.title" scope="col" class="number">{{ each.title }}</th>
            <th scope="col" class="number">Rate</th>
            <th scope="col"><span class="visually-hidden">Actions</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in broadcast.variants" :key="each.number">
            <th scope="row">{{ letterOf(each.number) }}</th>
            <td>
              {{ each.subject }}
              <div v-if="each.senderName || each.email !== broadcast.email" class="soft">
                {{
                  [each.senderName && `from ${each.senderName}`, each.email !== broadcast.email && each.email]
                    .filter(Boolean)
                    .join(', ')
                }}
              </div>
            </td>
            <td class="figures">{{ countOf(each.sent) }}</td>
            <td v-for="one in measures" :key="one.title" class="figures">{{ countOf(one.of(each)) }}</td>
            <td class="figures" :title="rateOf(measure.of(each), each.sent).interval">
              {{ rateOf(measure.of(each), each.sent).words }}
            </td>
            <td>
              <v-btn
                v-if="can(broadcast.state, 'decide')"
                size="small"
                variant="outlined"
                :disabled="busy"
                @click="$emit('decide', each.number)"
              >
                Send this to the rest
              </v-btn>
            </td>
          </tr>
        </tbody>
      </v-table>
    </div>
  </section>
</template>

<style scoped>
.body {
  display: grid;
  gap: 12px;
  padding: 12px 16px 16px;
}

p {
  margin: 0;
}
</style>
