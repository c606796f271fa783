<script setup lang="ts">
import type { MoneyIn } from '../../../contract/money.ts'
import { moneyWords } from '../../../core/commerce/money.ts'
import { countOf } from '../../wording.ts'

/** What somebody has paid in all. */
defineProps<{ money: MoneyIn; address: string }>()
</script>

<template>
  <section class="panel" aria-labelledby="money">
    <h2 id="money">Money in</h2>
    <p>
      <strong class="figures">{{ moneyWords(money) }}</strong> from
      <router-link :to="{ path: '/results/orders', query: { search: address } }"
        >{{ countOf(money.orders) }} {{ money.orders === 1 ? 'order' : 'orders' }}</router-link
      >
    </p>
  </section>
</template>

<style scoped>
p {
  margin: 0;
  padding: 16px;
}
</style>
