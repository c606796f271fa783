<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { OrderView } from '../../contract/orders.ts'
import { countryName } from '../../core/audience/people/country.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import StateMark from '../frame/StateMark.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import BuyerLink from './BuyerLink.vue'
import { failureOf, orderMark } from './orderStates.ts'
import RefundDialog from './RefundDialog.vue'
import SubscriptionDialog from './SubscriptionDialog.vue'

/** An order: what was bought, what was paid, and what went back. */
const props = defineProps<{ id: number }>()
const params = { id: props.id }
const session = useSession()
const now = useNowIso()
const { data: order, problem } = useLoaded((signal) => call(api.orders.view, { params, signal }), ['orders'])
const { refused, busy, attempt } = useAttempts()
const refunding = ref(false)
const sent = ref(false)
const changing = ref(false)

const money = (amount: number): string => moneyWords({ amount, currency: order.value?.currency ?? 'EUR' })
const when = (iso: string): string => whenOf(iso, session.zone, now.value)
const mark = computed(() => order.value && orderMark(order.value))

const kinds: Readonly<Record<OrderView['lines'][number]['kind'], string>> = {
  main: '',
  extra: 'extra on the form',
  next: 'offer after paying',
  together: 'sold together',
}
const paymentStates: Readonly<Record<OrderView['payments'][number]['state'], string>> = {
  due: 'due',
  asked: 'under way',
  confirming: 'to be confirmed by the buyer',
  paid: 'paid',
  failed: 'not paid',
}
const refundStates: Readonly<Record<OrderView['refunds'][number]['state'], string>> = {
  asked: 'under way',
  done: 'given back',
  failed: 'refused',
}
const endedBy = computed(() => {
  const by = order.value?.endedBy
  return by === 'buyer' ? 'by the buyer' : by === 'card' ? 'since no card paid' : `by ${by ?? ''}`
})
async function resend(): Promise<void> {
  sent.value = await attempt(() => call(api.orders.resend, { params }))
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Order {{ id }}</h1>
      <StateMark v-if="mark" :tone="mark.tone">{{ mark.words }}</StateMark>
      <span v-if="order?.test" class="soft">test: it counts nowhere</span>
      <span class="grow" />
      <template v-if="order?.state === 'paid'">
        <v-btn variant="outlined" size="small" :href="order.publicPath" target="_blank" rel="noopener">
          As the buyer sees it
        </v-btn>
        <v-btn variant="outlined" size="small" :loading="busy" @click="resend">
          {{ sent ? 'Receipt sent' : 'Send the receipt again' }}
        </v-btn>
        <v-btn v-if="order.renews && !order.endedAt" variant="outlined" size="small" @click="changing = true">
          Subscription
        </v-btn>
        <v-btn
          variant="outlined"
          size="small"
          color="error"
          :disabled="order.refundable === 0"
          @click="refunding = true"
        >
          Refund
        </v-btn>
      </template>
    </div>
    <ProblemNote :problem="problem ?? refused" />
    <div v-if="order" class="parts">
      <div class="column">
        <section class="panel" aria-labelledby="bought">
          <h2 id="bought">What was bought</h2>
          <v-table>
            <thead>
              <tr>
                <th scope="col">Product</th>
                <th scope="col">Price</th>
                <th scope="col" class="number">Tax</th>
                <th scope="col" class="number">Paid</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(line, n) in order.lines" :key="n">
                <td>
                  <router-link :to="`/library/products/${line.product}`">{{ line.title }}</router-link>
                  <small v-if="kinds[line.kind]" class="soft kind">{{ kinds[line.kind] }}</small>
                </td>
                <td>{{ line.words }}</td>
                <td class="figures">{{ line.rate / 100 }} %</td>
                <td class="figures">{{ money(line.total) }}</td>
              </tr>
              <tr v-if="order.off">
                <td>Coupon {{ order.coupon }}</td>
                <td />
                <td />
                <td class="figures">−{{ money(order.off) }} in it</td>
              </tr>
            </tbody>
            <tfoot>
              <tr>
                <th scope="row" colspan="2">Total</th>
                <td class="figures">{{ money(order.tax) }}</td>
                <td class="figures total">{{ money(order.total) }}</td>
              </tr>
            </tfoot>
          </v-table>
        </section>
        <section class="panel" aria-labelledby="money">
          <h2 id="money">Money</h2>
          <ul class="events">
            <li v-for="payment in order.payments" :key="`p${payment.id}`">
              <span class="figures">{{ when(payment.paidAt ?? payment.dueAt) }}</span>
              <span
                >{{
                  order.payments.length > 1
                    ? `Payment ${payment.n + 1} of ${order.payments.length}`
                    : 'Payment'
                }}
                <span class="soft">{{ paymentStates[payment.state] }}</span></span
              >
              <span class="figures">{{ money(payment.total) }}</span>
            </li>
            <li v-for="refund in order.refunds" :key="`r${refund.id}`">
              <span class="figures">{{ when(refund.askedAt) }}</span>
              <span
                >Refund by {{ refund.askedBy }}
                <span class="soft">{{ refundStates[refund.state] }}</span><template v-if="refund.reason"
                  >: {{ refund.reason }}</template
                ></span
              >
              <span class="figures">−{{ money(refund.amount) }}</span>
            </li>
          </ul>
          <p v-if="order.invoices.length" class="invoices">
            <a
              v-for="each in order.invoices"
              :key="each.number"
              :href="`${order.publicPath}/invoice/${each.number}`"
              target="_blank"
              rel="noopener"
              >{{ each.kind === 'invoice' ? 'Invoice' : 'Credit note' }} {{ each.number }}</a
            >
          </p>
        </section>
      </div>
      <section class="panel" aria-labelledby="who">
        <h2 id="who">Who</h2>
        <dl>
          <dt>Buyer</dt>
          <dd>
            <BuyerLink :contact="order.contact" :name="order.name" :address="order.address" />
          </dd>
          <dt>Address</dt>
          <dd>{{ order.address }}</dd>
          <template v-if="order.country">
            <dt>Country</dt>
            <dd>{{ countryName(order.country) }}</dd>
          </template>
          <template v-if="order.vatNumber">
            <dt>VAT number</dt>
            <dd class="figures">{{ order.vatNumber }}</dd>
          </template>
          <dt>Placed</dt>
          <dd class="figures">{{ when(order.placedAt) }}</dd>
          <template v-if="order.page">
            <dt>On the page</dt>
            <dd>
              <router-link :to="`/library/pages/${order.page.id}`">{{ order.page.name }}</router-link>
            </dd>
          </template>
          <template v-if="order.renews">
            <dt>Subscription</dt>
            <dd>
              <template v-if="order.endedAt">ended {{ when(order.endedAt) }}, {{ endedBy }}</template>
              <template v-else-if="order.pausedUntil">rests until {{ when(order.pausedUntil) }}</template>
              <template v-else>goes on</template>
              <template v-if="order.each && !order.endedAt">, {{ money(order.each) }} each time</template>
            </dd>
          </template>
          <template v-if="order.disputedAt">
            <dt>Disputed</dt>
            <dd class="figures">{{ when(order.disputedAt) }}</dd>
          </template>
          <template v-if="order.failure">
            <dt>Why not paid</dt>
            <dd>{{ failureOf(order.failure) }}</dd>
          </template>
        </dl>
      </section>
    </div>
    <SubscriptionDialog v-if="order && changing" v-model="changing" :order="order" />
    <RefundDialog v-if="order && refunding" v-model="refunding" :order="order" />
  </div>
</template>

<style scoped>
.kind {
  margin-left: 8px;
}

.parts {
  display: grid;
  grid-template-columns: 2fr 1fr;
  gap: 16px;
  align-items: start;
}

dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 6px 16px;
  padding: 12px 16px 16px;
  margin: 0;
}

dt {
  color: var(--ink-soft);
}

dd {
  margin: 0;
  overflow-wrap: anywhere;
}

.total {
  font-weight: 700;
}

.events {
  list-style: none;
  margin: 0;
  padding: 0 16px;
}

.events li {
  display: grid;
  grid-template-columns: 170px 1fr auto;
  gap: 16px;
  padding: 8px 0;
}

.events li + li {
  border-top: 1px solid var(--rule);
}

.column {
  display: grid;
  gap: 16px;
}

.invoices {
  display: flex;
  gap: 16px;
  padding: 8px 16px 16px;
  margin: 0;
}

tfoot th {
  text-align: left;
}
</style>
