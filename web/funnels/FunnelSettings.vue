<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import * as api from '../../contract/api.ts'
import { funnelEdit, type FunnelEdit } from '../../contract/funnels.ts'
import { goal, goals } from '../../core/funnels/funnel.ts'
import { noFunnelSettings, type FunnelSettings } from '../../core/funnels/settings.ts'
import { call, problemOf } from '../api.ts'
import PictureInput from '../blocks/inspector/PictureInput.vue'
import TargetInput from '../blocks/inspector/TargetInput.vue'
import { useSite } from '../blocks/site.ts'
import { useForm } from '../form.ts'
import MomentInput from '../frame/MomentInput.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import LimitedToInput from '../pages/LimitedToInput.vue'
import { useSession } from '../workspace/session.ts'

/** What a funnel is called, and what holds for all of its pages. */
const props = defineProps<{ id: number }>()
const library = useSite()
const session = useSession()
const problem = ref(null as ReturnType<typeof problemOf> | null)
const ready = ref(false)
const saved = ref(false)
const fresh: FunnelEdit = { name: '', goal: 'list', labels: [], revision: 1, settings: noFunnelSettings }
const form = useForm(funnelEdit, fresh)
const settings = computed(() => form.values.settings as FunnelSettings)
function set<K extends keyof FunnelSettings>(key: K, value: FunnelSettings[K]): void {
  form.values.settings = { ...settings.value, [key]: value }
  saved.value = false
}
const faultOf = (key: keyof FunnelSettings): string[] => {
  const fault = form.faults[`settings.${key}`] ?? form.faults[key]
  return fault === undefined ? [] : [fault]
}

onMounted(async () => {
  try {
    await library.reload()
    const {
      name,
      goal: wanted,
      labels,
      revision,
      settings: own,
    } = await call(api.funnels.view, {
      params: { id: props.id },
    })
    form.reset({ name, goal: wanted, labels, revision, settings: own })
    ready.value = true
  } catch (error) {
    problem.value = problemOf(error)
  }
})

const goalItems = goal.options.map((value) => ({ value, title: goals[value] }))
const domains = computed(() => [
  { value: null, title: 'As the site' },
  ...(library.site?.settings.domains ?? []).map((value) => ({ value, title: value })),
])
const ownCode = computed({
  get: () => settings.value.headCode !== null,
  set: (own: boolean) => set('headCode', own ? (library.site?.settings.headCode ?? '') : null),
})
const ownScripts = computed({
  get: () => settings.value.trackingScripts !== null,
  set: (own: boolean) =>
    set('trackingScripts', own ? [...(library.site?.settings.trackingScripts ?? [])] : null),
})

async function save(): Promise<void> {
  saved.value = await form.submit(async (body) => {
    form.values.revision = (await call(api.funnels.settings, { params: { id: props.id }, body })).revision
  })
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Settings of {{ form.values.name || 'the funnel' }}</h1>
      <v-btn variant="text" size="small" :to="`/funnels/${id}`">Back to the line</v-btn>
      <span class="grow" />
      <span v-if="saved" class="soft" role="status">saved</span>
      <v-btn color="secondary" :loading="form.busy" :disabled="!ready" @click="save">Save settings</v-btn>
    </div>
    <ProblemNote :problem="problem ?? form.problem" />
    <div v-if="ready" class="parts">
      <section class="panel" aria-labelledby="about">
        <h2 id="about">About it</h2>
        <v-text-field v-bind="form.field('name')" label="Name" />
        <v-select v-bind="form.field('goal')" :items="goalItems" label="Goal" />
        <v-combobox v-bind="form.field('labels')" label="Labels" multiple chips closable-chips />
        <v-text-field
          :model-value="settings.currency ?? ''"
          label="Currency"
          placeholder="EUR"
          maxlength="3"
          :error-messages="faultOf('currency')"
          @update:model-value="(typed: string) => set('currency', typed ? typed.toUpperCase() : null)"
        />
      </section>
      <section class="panel" aria-labelledby="address">
        <h2 id="address">Address</h2>
        <v-text-field
          :model-value="settings.path ?? ''"
          label="Path of its pages"
          prefix="/p/"
          hint="Its pages move with it; their old addresses lead on"
          persistent-hint
          :error-messages="faultOf('path')"
          @update:model-value="(typed: string) => set('path', typed || null)"
        />
        <v-select
          :model-value="settings.domain"
          label="Domain"
          :items="domains"
          @update:model-value="(domain: string | null) => set('domain', domain)"
        />
        <p class="soft">
          Domains are connected under <router-link to="/library/site">Site settings</router-link>.
        </p>
        <PictureInput
          :model-value="settings.icon"
          label="Icon of the browser tab"
          @update:model-value="(icon: number | null) => set('icon', icon)"
        />
      </section>
      <section class="panel" aria-labelledby="when">
        <h2 id="when">When it is open</h2>
        <MomentInput
          :model-value="settings.startsAt"
          label="Begins"
          :zone="session.zone"
          @update:model-value="(at: string | null) => set('startsAt', at)"
        />
        <TargetInput
          v-if="settings.startsAt"
          :model-value="settings.before"
          label="Before it begins, visitors go to"
          :only="['page', 'web']"
          @update:model-value="(to) => set('before', to)"
        />
        <MomentInput
          :model-value="settings.endsAt"
          label="Ends"
          :zone="session.zone"
          @update:model-value="(at: string | null) => set('endsAt', at)"
        />
        <p v-for="fault in faultOf('endsAt')" :key="fault" class="fault">{{ fault }}</p>
        <TargetInput
          v-if="settings.endsAt"
          :model-value="settings.after"
          label="Afterwards visitors go to"
          :only="['page', 'web']"
          @update:model-value="(to) => set('after', to)"
        />
        <LimitedToInput
          v-if="library.site"
          :model-value="settings.limitedTo"
          :site="library.site"
          @update:model-value="(to) => set('limitedTo', to)"
        />
      </section>
      <section class="panel" aria-labelledby="code">
        <h2 id="code">Counting and code</h2>
        <v-switch v-model="ownScripts" label="Scripts of its own that count visitors" />
        <v-textarea
          v-if="settings.trackingScripts"
          :model-value="settings.trackingScripts.join('\n')"
          label="Addresses of scripts, a line each; loaded after consent only"
          rows="2"
          :error-messages="faultOf('trackingScripts')"
          @update:model-value="
            (typed: string) =>
              set(
                'trackingScripts',
                typed
                  .split('\n')
                  .map((each) => each.trim())
                  .filter(Boolean),
              )
          "
        />
        <v-switch v-model="ownCode" label="Head code of its own" />
        <v-textarea
          v-if="settings.headCode !== null"
          :model-value="settings.headCode"
          label="Code for the head of its pages; scripts are taken out"
          rows="3"
          :error-messages="faultOf('headCode')"
          @update:model-value="(typed: string) => set('headCode', typed)"
        />
        <p v-if="!ownScripts || !ownCode" class="soft">
          What it has none of its own for is as for the whole site.
        </p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.parts {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 12px;
  align-items: start;
}

.parts > section {
  display: grid;
  gap: 12px;
  padding: 16px;
}

.parts h2 {
  margin: -16px -16px 0;
}

.fault {
  margin: 0;
  color: rgb(var(--v-theme-error));
}

@media (max-width: 900px) {
  .parts {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
