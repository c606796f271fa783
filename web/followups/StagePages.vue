<script setup lang="ts">
import { mdiOpenInNew, mdiReload } from '@mdi/js'
import { computed, ref } from 'vue'
import type { RehearsalStage } from '../../contract/followups.ts'

/** The live pages as somebody in rehearsal comes to them; what they send there is theirs. */
const props = defineProps<{ pages: RehearsalStage['pages'] }>()
const name = ref(props.pages[0]?.name ?? null)
const page = computed(() => props.pages.find((each) => each.name === name.value))
/** The address that is shown: with each look at the stage comes another, and a page that is being read stays. */
const shown = ref(page.value?.url)
const loads = ref(0)
function load(): void {
  shown.value = page.value?.url
  loads.value += 1
}
</script>

<template>
  <p v-if="!pages.length" class="none soft">No page is live yet.</p>
  <template v-else>
    <div class="which">
      <v-autocomplete
        v-model="name"
        :items="pages.map((each) => each.name)"
        label="Page"
        auto-select-first
        @update:model-value="load"
      />
      <v-btn size="small" variant="text" :prepend-icon="mdiReload" @click="load">Reload</v-btn>
      <v-btn
        size="small"
        variant="text"
        :prepend-icon="mdiOpenInNew"
        :href="page?.url"
        target="_blank"
        rel="noopener"
      >
        Own tab
      </v-btn>
    </div>
    <!-- The page is the business's own, on its own origin: it may not lead the application elsewhere. -->
    <iframe
      :key="loads"
      :src="shown"
      sandbox="allow-forms allow-scripts allow-same-origin allow-popups"
      :title="`The page ${name}`"
    />
  </template>
</template>

<style scoped>
.none {
  margin: 0;
  padding: 16px;
}

.which {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 10px 16px;
  border-bottom: 1px solid var(--rule);
}

iframe {
  display: block;
  width: 100%;
  height: max(420px, calc(100vh - 400px));
  border: 0;
  background: #fff;
}
</style>
