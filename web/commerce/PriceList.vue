<script setup lang="ts">
import { offerOf } from '../../core/commerce/offer.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import { paysWords } from '../../core/commerce/priceWords.ts'
import { mostPrices } from '../../core/commerce/product.ts'
import type { Price } from '../../core/commerce/price.ts'
import type { FindingView } from '../../contract/drafts.ts'
import StateMark from '../frame/StateMark.vue'
import { countOf, whenOf } from '../wording.ts'
import type { ProductEditing } from './productEditing.ts'

/** The price list of a product: a row for each price, as it is now. */
const props = defineProps<{
  editing: ProductEditing
  currency: string
  zone: string
  now: number
  findings: readonly FindingView[]
}>()
const emit = defineEmits<{ edit: [] }>()
const { content, selected } = props.editing

const states = {
  open: { tone: 'clear', words: 'on sale' },
  notYet: { tone: 'soft', words: 'not yet on sale' },
  over: { tone: 'stop', words: 'sale is over' },
  soldOut: { tone: 'stop', words: 'sold out' },
} as const
const offer = (price: Price) => offerOf(price, props.now, 0, null)
const faultOf = ({ id }: Price): string =>
  props.findings.find(({ part, level }) => part === id && level === 'error')?.words ?? ''

function limits(price: Price): string {
  const { usually, until, left } = offer(price)
  const when =
    until === null
      ? ''
      : `until ${whenOf(new Date(until).toISOString(), props.zone, new Date(props.now).toISOString())}`
  const first =
    left === null
      ? ''
      : `${usually === null ? '' : 'first '}${countOf(left)} ${left === 1 ? 'place' : 'places'}`
  const then = usually === null ? '' : `then ${paysWords(price.pays, props.currency, usually)}`
  return [first, when, then].filter(Boolean).join(', ')
}
function edit(id: string): void {
  selected.value = id
  emit('edit')
}
</script>

<template>
  <section class="panel" aria-labelledby="price-list">
    <div class="panel-head">
      <h2 id="price-list">Price list</h2>
      <span class="grow" />
      <v-btn
        size="small"
        variant="outlined"
        :disabled="content.prices.length >= mostPrices"
        @click="editing.addPrice()"
      >
        Add a price
      </v-btn>
    </div>
    <v-table v-if="content.prices.length" class="prices">
      <thead>
        <tr>
          <th scope="col">Price</th>
          <th scope="col" class="amount">Costs now</th>
          <th scope="col">Limits</th>
          <th scope="col">State</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(price, at) in content.prices"
          :key="price.id"
          :class="{ chosen: price.id === selected }"
          :data-price="price.id"
          @click="selected = price.id"
        >
          <td>
            <v-btn class="name" variant="text" size="small" @click.stop="edit(price.id)">
              {{ price.name || `Price ${at + 1}` }}
            </v-btn>
          </td>
          <td class="amount figures">
            <s v-if="offer(price).usually !== null" class="soft">
              {{ moneyWords({ amount: offer(price).usually ?? 0, currency }) }}
            </s>
            {{ paysWords(price.pays, currency, offer(price).amount) }}
          </td>
          <td>{{ limits(price) }}</td>
          <td>
            <StateMark v-if="faultOf(price)" tone="stop" :title="faultOf(price)">to fix</StateMark>
            <StateMark v-else :tone="states[offer(price).state].tone">
              {{ states[offer(price).state].words }}
            </StateMark>
          </td>
        </tr>
      </tbody>
    </v-table>
    <p v-else class="none">
      No price yet. One is enough; several let buyers choose, such as once or in three payments.
    </p>
  </section>
</template>

<style scoped>
.grow {
  flex: 1;
}

.amount {
  text-align: right;
}

.name {
  margin-left: -10px;
}

tr {
  cursor: pointer;
}

tr.chosen {
  box-shadow: inset 3px 0 0 var(--petrol);
}

.none {
  margin: 0;
  padding: 14px 16px;
}
</style>
