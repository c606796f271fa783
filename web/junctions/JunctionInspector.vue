<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import { junctionSettings, type JunctionView } from '../../contract/junctions.ts'
import type { SiteView } from '../../contract/pages.ts'
import { call } from '../api.ts'
import VersionsInput from '../blocks/VersionsInput.vue'
import { useForm } from '../form.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useAttempts } from '../attempt.ts'
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
const { refused, attempt } = useAttempts()
const params = { id: props.view.id }

const { name, path, labels } = props.view
const form = useForm(junctionSettings, { name, path, labels: [...labels] })
async function keep(): Promise<void> {
  await props.save()
  if (await form.submit((body) => call(api.junctions.settings, { params, body }))) emit('reload')
}

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
async function goBack(version: number): Promise<void> {
  if (await attempt(() => call(api.junctions.goBack, { params, body: { version } }))) emit('reload')
}
</script>

<template>
  <div class="parts">
    <h2>Ways in</h2>
    <WaysIn :public-url="site.publicUrl" :path="view.path" :name="view.name" />
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
    <h2>Name and address</h2>
    <ProblemNote :problem="form.problem ?? refused" />
    <v-text-field v-bind="form.field('name')" label="Name" />
    <v-text-field
      v-bind="form.field('path')"
      label="Path"
      prefix="/j/"
      hint="Links with the old path lead on"
      persistent-hint
    />
    <v-combobox v-bind="form.field('labels')" label="Labels" multiple chips closable-chips />
    <v-btn size="small" variant="outlined" :loading="form.busy" @click="keep">Save</v-btn>
    <p v-if="view.usedIn.length" class="soft">Used in {{ view.usedIn.join(', ') }}</p>
    <VersionsInput :versions="view.versions" @go-back="goBack" />
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
