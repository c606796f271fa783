<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { DomainCheck } from '../../contract/pages.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ProblemNote from '../frame/ProblemNote.vue'

/** What to set for each domain of the business, and whether it is set. */
const props = defineProps<{ domains: readonly string[]; host: string }>()
const { refused, busy, attempt } = useAttempts()
const found = ref<Record<string, DomainCheck>>({})
const record = computed(() => (/^[\d.]+$|:/.test(props.host) ? 'A' : 'CNAME'))

const check = (): Promise<boolean> =>
  attempt(async () => {
    for (const domain of props.domains)
      found.value[domain] = await call(api.site.checkDomain, { body: { domain } })
  })
</script>

<template>
  <div class="checks">
    <p class="soft">
      At your domain provider, set for each: <strong>{{ record }}</strong> to <code>{{ host }}</code>. Pages
      are then found under <code>https://{{ domains[0] }}/</code> without “/p”.
    </p>
    <ul v-if="Object.keys(found).length" role="status">
      <template v-for="domain in domains" :key="domain">
        <li v-if="found[domain]" :class="found[domain].state">{{ found[domain].words }}</li>
      </template>
    </ul>
    <ProblemNote :problem="refused" />
    <v-btn size="small" variant="outlined" :loading="busy" @click="check">Check domains</v-btn>
  </div>
</template>

<style scoped>
.checks {
  display: grid;
  gap: 8px;
  justify-items: start;
}

p,
ul {
  margin: 0;
}

ul {
  padding-left: 20px;
}

.wrong,
.missing,
.unknown {
  color: rgb(var(--v-theme-error));
}
</style>
