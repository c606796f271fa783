<script setup lang="ts">
import { mdiAlertCircleOutline, mdiLightbulbOutline } from '@mdi/js'
import { computed } from 'vue'
import type { FindingView } from '../../contract/drafts.ts'

/** What the checks found, and what is different from what visitors see. */
const props = defineProps<{
  findings: readonly FindingView[]
  /** Nothing where it is not published by itself. */
  changes?: readonly string[]
}>()
const emit = defineEmits<{ go: [part: string] }>()

const errors = computed(() => props.findings.filter(({ level }) => level === 'error').length)
const label = computed(() => {
  if (errors.value > 0) return `${errors.value} to fix`
  return props.findings.length > 0 ? `${props.findings.length} to consider` : 'Checks passed'
})
</script>

<template>
  <v-menu :close-on-content-click="false">
    <template #activator="{ props: menu }">
      <v-btn v-bind="menu" size="small" variant="outlined" :color="errors ? 'error' : undefined">{{
        label
      }}</v-btn>
    </template>
    <v-card width="420" class="checks">
      <h3>Checks</h3>
      <v-list v-if="findings.length" lines="two">
        <v-list-item
          v-for="(finding, i) in findings"
          :key="i"
          :prepend-icon="finding.level === 'error' ? mdiAlertCircleOutline : mdiLightbulbOutline"
          :base-color="finding.level === 'error' ? 'error' : undefined"
          :title="finding.words"
          @click="finding.part !== null && emit('go', finding.part)"
        />
      </v-list>
      <p v-else class="soft">Nothing to fix.</p>
      <template v-if="changes">
        <h3>Since it was published</h3>
        <ul v-if="changes.length">
          <li v-for="(change, i) in changes" :key="i">{{ change }}</li>
        </ul>
        <p v-else class="soft">No changes.</p>
      </template>
    </v-card>
  </v-menu>
</template>

<style scoped>
.checks {
  padding: 12px 16px;
  max-height: 60vh;
  overflow: auto;
}

.checks :deep(.v-list-item-title) {
  white-space: normal;
}

ul {
  padding-left: 18px;
  margin: 4px 0;
}
</style>
