<script setup lang="ts">
import { mdiOpenInNew, mdiReload } from '@mdi/js'
import { useElementSize } from '@vueuse/core'
import { computed, ref, useTemplateRef } from 'vue'
import type { RehearsalStage } from '../../contract/followups.ts'
import { fillForms, type FilledBy } from './fillForms.ts'

/** A computer's page (px). */
const wide = 1_180

/** The live pages as somebody in rehearsal comes to them; what they send there is theirs. */
const props = defineProps<{
  pages: RehearsalStage['pages']
  /** As wide as a computer has it, made smaller; as wide as here when nothing is said. */
  width?: 'wide' | 'phone'
  /** Who fills in forms. */
  person?: FilledBy
}>()
const frame = useTemplateRef<HTMLIFrameElement>('frame')
const { width: room } = useElementSize(useTemplateRef<HTMLElement>('stand'))
/** How much smaller a computer's page is drawn. */
const scale = computed(() => (props.width === 'wide' ? Math.min(1, room.value / wide) : 1))
const filled = ref('')
function fillIn(): void {
  const inside = frame.value?.contentDocument
  const count = inside && props.person ? fillForms(inside, props.person) : 0
  if (count > 0) inside?.querySelector('form[method=post]')?.scrollIntoView({ block: 'center' })
  filled.value = count > 0 ? 'Filled in: press its button' : 'This page has no form to fill in'
}
const name = ref(props.pages[0]?.name ?? null)
const page = computed(() => props.pages.find((each) => each.name === name.value))
/** The address that is shown: with each look at the stage comes another, and a page that is being read stays. */
const shown = ref(page.value?.url)
const loads = ref(0)
function load(): void {
  shown.value = page.value?.url
  loads.value += 1
  filled.value = ''
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
      <v-btn v-if="person" size="small" variant="outlined" @click="fillIn">Fill in for me</v-btn>
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
    <p v-if="filled" class="filled soft" role="status">{{ filled }}</p>
    <!-- The page is the business's own, on its own origin: it may not lead the application elsewhere. -->
    <div ref="stand" class="stand">
      <iframe
        :key="loads"
        ref="frame"
        :class="width"
        :src="shown"
        sandbox="allow-forms allow-scripts allow-same-origin allow-popups"
        :title="`The page ${name}`"
        :style="width === 'wide' ? { '--wide': `${wide}px`, '--scale': scale } : {}"
      />
    </div>
  </template>
</template>

<style scoped>
.none {
  margin: 0;
  padding: 16px;
}

.filled {
  margin: 6px 16px;
}

.stand {
  overflow: hidden;
}

.which {
  display: flex;
  flex-wrap: wrap;
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

.phone {
  width: min(390px, 100%);
  margin: 0 auto;
  border: 1px solid var(--rule);
}

/* Drawn as wide as a computer has it, then made smaller as a whole. */
.wide {
  width: var(--wide);
  height: calc(max(420px, 100vh - 430px) / var(--scale));
  margin-bottom: calc(max(420px, 100vh - 430px) * (1 - 1 / var(--scale)));
  transform: scale(var(--scale));
  transform-origin: 0 0;
}
</style>
