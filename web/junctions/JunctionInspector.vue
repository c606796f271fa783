<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import type { JunctionView } from '../../contract/junctions.ts'
import type { SiteView } from '../../contract/pages.ts'
import PublicSettings from '../blocks/PublicSettings.vue'
import type { JunctionEditing } from './junctionEditing.ts'
import WaysIn from './WaysIn.vue'

/** The junction as a whole: its address, what happens to strangers, ways in, versions. */
const props = defineProps<{
  view: JunctionView
  editing: JunctionEditing
  site: SiteView
  save: () => Promise<boolean>
}>()
const emit = defineEmits<{ reload: [] }>()
const { content, set } = props.editing
const forms = computed(() =>
  props.site.forms.map((each) => ({
    value: each.id,
    title: each.live ? each.name : `${each.name} (not live)`,
  })),
)
const asksFirst = computed({
  get: () => content.value.strangers.go === 'form',
  set: (wanted: boolean) => set({ strangers: wanted ? { go: 'form', form: null } : { go: 'otherwise' } }),
})
const firstForm = computed({
  get: () => (content.value.strangers.go === 'form' ? content.value.strangers.form : null),
  set: (chosen: number | null) => set({ strangers: { go: 'form', form: chosen } }),
})
</script>

<template>
  <div class="parts">
    <h2>Ways in</h2>
    <WaysIn :public-url="site.publicUrl" :path="view.path" />
    <h2>Visitors we do not know</h2>
    <v-switch v-model="asksFirst" label="Fill in a form first" />
    <v-autocomplete v-if="asksFirst" v-model="firstForm" label="Form" :items="forms" />
    <p v-else class="soft">They go where “otherwise” leads.</p>
    <v-switch
      :model-value="content.trustsForms"
      label="Sort by an address that is only typed"
      hint="Somebody on your list who uses another browser is then sorted like anybody else. But whoever types their address can see where they are sent."
      persistent-hint
      @update:model-value="(wanted: boolean | null) => set({ trustsForms: wanted === true })"
    />
    <v-switch
      :model-value="content.carriesSource"
      label="Pass on where they came from (UTM)"
      @update:model-value="(wanted: boolean | null) => set({ carriesSource: wanted === true })"
    />
    <PublicSettings :view="view" :routes="api.junctions" prefix="/j/" :save="save" @reload="emit('reload')" />
  </div>
</template>

<style scoped>
.parts {
  display: grid;
  gap: 10px;
}

.parts p {
  margin: 0;
}
</style>
