<script setup lang="ts">
import type { LeftOut } from '../../../contract/broadcasts.ts'
import { countOf } from '../../wording.ts'

/** Who does not get a broadcast: how many, and why. */
defineProps<{ leftOut: LeftOut }>()
</script>

<template>
  <ul class="left-out">
    <li v-for="each in leftOut" :key="each.reason">
      <span class="figures">{{ countOf(each.people) }}</span>
      <span>{{ each.reason }}</span>
    </li>
  </ul>
</template>

<style scoped>
.left-out {
  margin: 4px 0 0;
  padding: 0;
  list-style: none;
}

li {
  display: grid;
  grid-template-columns: 56px 1fr;
  gap: 8px;
  color: var(--ink-soft);
}

li .figures {
  text-align: right;
}
</style>
