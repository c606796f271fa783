<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { EmailReport } from '../../contract/emails.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import { call, linkTo } from '../api.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { rateOf } from '../rate.ts'
import { countOf } from '../wording.ts'
import MachineClicks from './MachineClicks.vue'
import ReadingChart from './ReadingChart.vue'

/** What became of an email: how many read and clicked it, what, where and when. */
const props = defineProps<{ id: number }>()
const params = { id: props.id }

const { data, problem } = useLoaded(
  (signal) => call(api.emails.report, { params, signal }),
  ['email', 'audience'],
)
const { data: emails } = useLoaded((signal) => call(api.emails.list, { signal }), ['email'])
const others = computed(() => (emails.value ?? []).filter(({ id, sent }) => id !== props.id && sent > 0))
const compared = ref<number | null>(null)
const { data: other } = useLoaded(
  (signal) =>
    compared.value === null
      ? Promise.resolve(null)
      : call(api.emails.report, { params: { id: compared.value }, signal }),
  ['email'],
  () => compared.value,
)
const reports = computed(() => [data.value, other.value].filter((each): each is EmailReport => each !== null))

const rows: { name: string; of: (report: EmailReport) => number; rate: boolean; hint?: string }[] = [
  { name: 'Delivered', of: ({ sent }) => sent, rate: false },
  { name: 'Opened by people', of: ({ opened }) => opened, rate: true },
  {
    name: 'Opened by machines alone',
    of: ({ machineOpened }) => machineOpened,
    rate: false,
    hint: 'Scanners of mail that fetched the picture; nobody is counted for them',
  },
  { name: 'Clicked', of: ({ clicked }) => clicked, rate: true },
  { name: 'Unsubscribed', of: ({ unsubscribed }) => unsubscribed, rate: true },
  { name: 'Rejected', of: ({ failed }) => failed, rate: false },
  { name: 'Held back', of: ({ held }) => held, rate: false },
]
const devices: Readonly<Record<string, string>> = { phone: 'Phone', tablet: 'Tablet', computer: 'Computer' }
const links = computed(() => data.value?.links.filter(({ gone, people }) => !gone || people > 0) ?? [])

const showsMachines = ref(false)
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>{{ data?.name ?? 'Report' }}</h1>
      <span v-if="data" class="soft">{{ data.subject }}</span>
      <span class="grow" />
      <v-btn variant="text" :to="`/library/emails/${id}`">Edit</v-btn>
      <v-btn variant="outlined" :href="linkTo(api.emails.reportCsv, { params })">Export as CSV</v-btn>
    </div>
    <ProblemNote :problem="problem" />
    <div v-if="data" class="columns">
      <div class="parts">
        <section class="panel" aria-labelledby="numbers">
          <div class="panel-head">
            <h2 id="numbers">Numbers</h2>
            <v-autocomplete
              v-model="compared"
              class="inline compare"
              label="Compare with"
              :items="others"
              item-title="name"
              item-value="id"
              clearable
              hide-details
            />
          </div>
          <p v-if="!data.tracked" class="note">
            Opens and clicks of this email are not counted: it says so itself.
          </p>
          <v-table>
            <thead v-if="other">
              <tr>
                <th scope="col"><span class="visually-hidden">What</span></th>
                <th v-for="each in reports" :key="each.name" scope="col" colspan="2" class="number">
                  {{ each.name }}
                </th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="row in rows" :key="row.name">
                <th scope="row" :title="row.hint">{{ row.name }}</th>
                <template v-for="(report, n) in reports" :key="n">
                  <td class="figures">{{ countOf(row.of(report)) }}</td>
                  <td class="figures" :title="rateOf(row.of(report), report.sent).interval">
                    {{ row.rate ? rateOf(row.of(report), report.sent).words : '' }}
                  </td>
                </template>
              </tr>
              <tr>
                <th scope="row" title="Within seven days after a click, each order beside the last click">
                  Bought after a click
                </th>
                <template v-for="(report, n) in reports" :key="n">
                  <td class="figures">{{ countOf(report.money.orders) }}</td>
                  <td class="figures">{{ moneyWords(report.money) }}</td>
                </template>
              </tr>
            </tbody>
          </v-table>
          <p class="note soft">
            Opens are a hint: some mailboxes load every picture, others none. Clicks are people’s; what
            scanners follow is told apart.
          </p>
        </section>
        <section class="panel" aria-labelledby="links">
          <div class="panel-head">
            <h2 id="links">Links</h2>
            <v-btn size="small" variant="text" @click="showsMachines = true">Clicks by machines</v-btn>
            <MachineClicks v-if="showsMachines" :id="id" v-model="showsMachines" />
          </div>
          <v-table>
            <thead>
              <tr>
                <th scope="col">Link</th>
                <th scope="col" class="number">People</th>
                <th scope="col" class="number">Of those who got it</th>
                <th scope="col" class="number">By machines</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="link in links" :key="link.id">
                <th scope="row">{{ link.label }}<span v-if="link.gone" class="soft"> (taken out)</span></th>
                <td class="figures">{{ countOf(link.people) }}</td>
                <td class="figures" :title="rateOf(link.people, data.sent).interval">
                  {{ rateOf(link.people, data.sent).words }}
                </td>
                <td class="figures">{{ countOf(link.machines) }}</td>
              </tr>
              <tr v-if="links.length === 0">
                <td colspan="4">It has no links.</td>
              </tr>
            </tbody>
          </v-table>
        </section>
        <section class="panel" aria-labelledby="over-time">
          <h2 id="over-time">Over time</h2>
          <ReadingChart :reports="reports" />
        </section>
        <section class="panel halves" aria-label="Where it was read">
          <v-table>
            <thead>
              <tr>
                <th scope="col">Domain</th>
                <th scope="col" class="number">Sent</th>
                <th scope="col" class="number">Opened</th>
                <th scope="col" class="number">Clicked</th>
                <th scope="col" class="number">Rejected</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="each in data.byDomain" :key="each.domain">
                <th scope="row">{{ each.domain }}</th>
                <td class="figures">{{ countOf(each.sent) }}</td>
                <td class="figures">{{ countOf(each.opened) }}</td>
                <td class="figures">{{ countOf(each.clicked) }}</td>
                <td class="figures">{{ countOf(each.failed) }}</td>
              </tr>
            </tbody>
          </v-table>
          <v-table>
            <thead>
              <tr>
                <th scope="col">Device</th>
                <th scope="col" class="number">Opened</th>
                <th scope="col" class="number">Clicked</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="each in data.byDevice" :key="each.device">
                <th scope="row">{{ devices[each.device] ?? 'Not known' }}</th>
                <td class="figures">{{ countOf(each.opened) }}</td>
                <td class="figures">{{ countOf(each.clicked) }}</td>
              </tr>
            </tbody>
          </v-table>
        </section>
      </div>
      <aside class="panel picture" aria-labelledby="picture">
        <h2 id="picture">Clicks on the email</h2>
        <iframe
          :src="linkTo(api.emails.reportHtml, { params })"
          title="The email with the clicks of each link"
          sandbox="allow-popups"
        />
      </aside>
    </div>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 1fr 440px;
  gap: 16px;
  align-items: start;
}

.parts {
  display: grid;
  gap: 16px;
}

.compare {
  width: 260px;
}

.note {
  margin: 0;
  padding: 8px 16px;
}

tbody th {
  font-weight: 400;
  text-align: left;
}

.halves {
  display: grid;
  grid-template-columns: 2fr 1fr;
}

.picture {
  position: sticky;
  top: 16px;
}

iframe {
  width: 100%;
  height: 600px;
  border: 0;
}

@media (width < 1000px) {
  .columns,
  .halves {
    grid-template-columns: 1fr;
  }
}
</style>
