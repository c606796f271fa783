<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import * as api from '../../contract/api.ts'
import { siteSender } from '../../contract/pages.ts'
import { noSettings, siteSettings } from '../../core/pages/site.ts'
import { call, problemOf } from '../api.ts'
import PictureInput from '../blocks/inspector/PictureInput.vue'
import { useSite } from '../blocks/site.ts'
import { useForm } from '../form.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import StationTabs from '../frame/StationTabs.vue'
import DomainChecks from './DomainChecks.vue'

/** What holds for the whole public site. */
const library = useSite()
const problem = ref(null as ReturnType<typeof problemOf> | null)
const form = useForm(siteSettings, noSettings)
const saved = ref(false)
const ready = ref(false)
const { field } = form
const sender = useForm(siteSender, { name: '', postalAddress: '' })

onMounted(async () => {
  try {
    await library.reload()
    if (library.site) {
      form.reset(library.site.settings)
      sender.reset(library.site.business)
    }
    ready.value = true
  } catch (error) {
    problem.value = problemOf(error)
  }
})

const pages = computed(() => (library.site?.pages ?? []).map(({ id, name }) => ({ value: id, title: name })))
const host = computed(() => (library.site ? new URL(library.site.publicUrl).hostname : ''))

const pictureOf = (name: 'favicon' | 'sharingPicture') => ({
  modelValue: form.values[name] ?? null,
  'onUpdate:modelValue': (id: number | null) => (form.values[name] = id),
})

async function save(): Promise<void> {
  saved.value =
    (await sender.submit((body) => call(api.site.setSender, { body }))) &&
    (await form.submit((body) => call(api.site.setSettings, { body })))
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Site settings</h1>
      <StationTabs of="Library" />
      <span class="grow" />
      <span v-if="saved" class="soft" role="status">saved</span>
      <v-btn color="secondary" :loading="form.busy" :disabled="!ready" @click="save">Save settings</v-btn>
    </div>
    <ProblemNote :problem="problem ?? sender.problem ?? form.problem" />
    <v-form v-if="ready" class="two" novalidate @submit.prevent="save">
      <section class="panel set">
        <h2>Business</h2>
        <v-text-field
          v-bind="sender.field('name')"
          label="Name"
          hint="Stands below pages and emails."
          persistent-hint
        />
        <v-text-field v-bind="sender.field('postalAddress')" label="Postal address" />
        <h2>Domains</h2>
        <v-combobox
          v-bind="field('domains')"
          label="Your own domains"
          multiple
          chips
          closable-chips
          hint="Without https://, such as pages.example.com. The first one is the main one."
          persistent-hint
        />
        <DomainChecks v-if="form.values.domains?.length" :domains="form.values.domains" :host="host" />
        <h2>Search engines and visitors</h2>
        <v-switch v-bind="field('listed')" label="Search engines may list the site" />
        <v-switch v-bind="field('countVisits')" label="Count visits (without cookies for strangers)" />
        <v-autocomplete
          v-bind="field('notFoundPage')"
          label="Page for addresses that lead nowhere"
          :items="pages"
          clearable
        />
        <v-autocomplete v-bind="field('privacyPage')" label="Privacy page" :items="pages" clearable />
      </section>
      <section class="panel set">
        <h2>Pictures</h2>
        <PictureInput v-bind="pictureOf('favicon')" label="Icon of the browser tab" />
        <PictureInput v-bind="pictureOf('sharingPicture')" label="Picture when somebody shares a page" />
        <h2>Videos and code of others</h2>
        <v-combobox
          v-bind="field('videoHosts')"
          label="Hosts whose videos may be shown"
          multiple
          chips
          closable-chips
          hint="Nothing is loaded from them before a visitor presses play."
          persistent-hint
        />
        <v-combobox
          v-bind="field('trackingScripts')"
          label="Tracking scripts"
          multiple
          chips
          closable-chips
          hint="Addresses that begin with https://. They are loaded after consent only."
          persistent-hint
        />
        <v-textarea v-bind="field('consentWords')" label="Words of the consent banner" />
        <v-textarea
          v-bind="field('headCode')"
          label="Code for the head of every page"
          hint="Only meta and link; scripts are taken out."
          persistent-hint
          class="figures"
        />
      </section>
    </v-form>
    <p v-else-if="!problem" class="soft">Loading…</p>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 16px;
  align-items: start;
}

.set {
  display: grid;
  gap: 14px;
  padding: 14px 16px;
}

.set > h2 {
  border: 0;
  padding: 0;
}

.set p {
  margin: 0;
}
</style>
