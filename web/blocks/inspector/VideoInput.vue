<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Block } from '../../../core/blocks/block.ts'
import { webAddress } from '../../../core/blocks/target.ts'
import { useSite } from '../site.ts'

type Source = Block<'video'>['source']

/** A video file of the Library with its captions, or one at a host that the site allows. */
const source = defineModel<Source>({ required: true })
const library = useSite()
const from = ref<'file' | 'web'>(source.value?.from ?? 'file')
const url = ref('')
const fault = ref('')
watch(
  source,
  (now) => {
    if (now) from.value = now.from
    if (now?.from === 'web') url.value = now.url
  },
  { immediate: true },
)

const filesOf = (type: string) =>
  (library.site?.files ?? [])
    .filter(({ mediaType }) => mediaType.startsWith(type))
    .map(({ id, name }) => ({ value: id, title: name }))
const videos = computed(() => filesOf('video/'))
const captions = computed(() => filesOf('text/vtt'))
const own = computed(() => (source.value?.from === 'file' ? source.value : null))

const chooseFile = (file: number | null): void => {
  source.value = file === null ? null : { from: 'file', file, captions: own.value?.captions ?? null }
}
const chooseCaptions = (id: number | null): void => {
  if (own.value) source.value = { ...own.value, captions: id }
}
function typeUrl(text: string): void {
  url.value = text
  const read = webAddress.safeParse(text.trim())
  fault.value = read.success ? '' : 'Use a web address such as https://example.com'
  if (read.success) source.value = { from: 'web', url: read.data }
}
</script>

<template>
  <div class="video">
    <v-select
      v-model="from"
      label="Where it comes from"
      :items="[
        { title: 'A file of the Library', value: 'file' },
        { title: 'An address at a video host', value: 'web' },
      ]"
    />
    <template v-if="from === 'file'">
      <v-autocomplete
        :model-value="own?.file ?? null"
        label="Video file"
        :items="videos"
        no-data-text="Upload one in Library, Pictures and files"
        clearable
        @update:model-value="chooseFile"
      />
      <v-autocomplete
        :model-value="own?.captions ?? null"
        label="Captions file"
        :items="captions"
        no-data-text="Upload a .vtt file in the Library"
        clearable
        @update:model-value="chooseCaptions"
      />
    </template>
    <v-text-field
      v-else
      :model-value="url"
      label="Address"
      :error-messages="fault"
      :hint="`Hosts you allow: ${library.site?.settings.videoHosts.join(', ') || 'none yet (Site settings)'}`"
      persistent-hint
      @update:model-value="typeUrl"
    />
  </div>
</template>

<style scoped>
.video {
  display: grid;
  gap: 8px;
}
</style>
