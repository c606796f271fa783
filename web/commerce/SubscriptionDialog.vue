<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import { newPrice, type OrderView } from '../../contract/orders.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import { useForm } from '../form.ts'
import MomentInput from '../frame/MomentInput.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useNowIso } from '../now.ts'
import { whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import AmountInput from './AmountInput.vue'

/** What can be done with a subscription: another price, a pause, an end. */
const props = defineProps<{ order: OrderView }>()
const open = defineModel<boolean>({ required: true })
const params = { id: props.order.id }
const session = useSession()
const now = useNowIso()
const zone = computed(() => session.me?.business.zone ?? 'UTC')
const price = useForm(newPrice, { amount: props.order.each ?? 0 })
const until = ref<string | null>(null)
const { refused, busy, attempt } = useAttempts()

async function changePrice(): Promise<void> {
  if (await price.submit((body) => call(api.orders.changePrice, { params, body }))) open.value = false
}
async function pause(to: string | null): Promise<void> {
  if (await attempt(() => call(api.orders.pause, { params, body: { until: to } }))) open.value = false
}
async function end(): Promise<void> {
  if (await attempt(() => call(api.orders.end, { params }))) open.value = false
}
</script>

<template>
  <v-dialog v-model="open" max-width="480">
    <v-card title="Subscription">
      <v-card-text class="parts">
        <ProblemNote :problem="refused ?? price.problem" />
        <section aria-labelledby="price">
          <h3 id="price">Price</h3>
          <p class="soft">From the next payment on. The buyer is told by email.</p>
          <AmountInput v-model="price.values.amount as number" label="Each time" :currency="order.currency" />
          <p v-if="price.faults.amount" class="fault" role="alert">{{ price.faults.amount }}</p>
          <v-btn size="small" variant="outlined" :loading="price.busy" @click="changePrice">Set price</v-btn>
        </section>
        <section aria-labelledby="rest">
          <h3 id="rest">Pause</h3>
          <template v-if="order.pausedUntil">
            <p>It rests until {{ whenOf(order.pausedUntil, zone, now) }}.</p>
            <v-btn size="small" variant="outlined" :loading="busy" @click="pause(null)">Go on now</v-btn>
          </template>
          <template v-else>
            <p class="soft">Nothing is taken until then; afterwards it goes on by itself.</p>
            <MomentInput v-model="until" label="Until" :zone="zone" />
            <v-btn
              size="small"
              variant="outlined"
              :loading="busy"
              :disabled="until === null"
              @click="pause(until)"
            >
              Let it rest
            </v-btn>
          </template>
        </section>
        <section aria-labelledby="ends">
          <h3 id="ends">End</h3>
          <p class="soft">Nothing more is taken from the card. What was paid stays paid.</p>
          <v-btn size="small" variant="outlined" color="error" :loading="busy" @click="end">
            End the subscription
          </v-btn>
        </section>
      </v-card-text>
      <v-card-actions>
        <v-spacer />
        <v-btn variant="text" @click="open = false">Close</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.parts,
.parts section {
  display: grid;
  gap: 10px;
  justify-items: start;
}

.parts p {
  margin: 0;
}

.fault {
  color: rgb(var(--v-theme-error));
}

.parts section + section {
  border-top: 1px solid var(--rule);
  padding-top: 12px;
}

.parts section > :deep(.v-input) {
  width: 100%;
}
</style>
