<script setup lang="ts">
import { mdiUpload } from '@mdi/js'
import { computed, ref, useTemplateRef } from 'vue'
import * as api from '../../../contract/api.ts'
import { upload } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import { useSite } from '../site.ts'

/** A picture of the Library, or a new one. */
defineProps<{ label: string }>()
const picture = defineModel<number | null>({ required: true })
const library = useSite()
const chosen = computed(() => (picture.value === null ? undefined : library.pictures.get(picture.value)))
const choices = computed(() =>
  [...library.pictures.values()].map(({ id, name }) => ({ value: id, title: name })),
)

const input = useTemplateRef<HTMLInputElement>('input')
const share = ref(0)
const { refused, busy, attempt } = useAttempts()

async function send(): Promise<void> {
  const file = input.value?.files?.[0]
  if (!file) return
  await attempt(async () => {
    const { id } = await upload(
      api.files.uploadPicture,
      { name: file.name },
      file,
      (sent) => (share.value = sent),
    )
    await library.reload()
    picture.value = id
  })
  if (input.value) input.value.value = ''
}
</script>

<template>
  <div class="picture">
    <img
      v-if="chosen"
      :src="`${chosen.base}-${chosen.widths[0]}.jpg`"
      :alt="chosen.alt || chosen.name"
      width="72"
      height="48"
    />
    <v-autocomplete
      :model-value="picture"
      :label="label"
      :items="choices"
      clearable
      @update:model-value="(id: number | null) => (picture = id)"
    />
    <v-btn
      :icon="mdiUpload"
      size="small"
      variant="outlined"
      :aria-label="`Upload: ${label}`"
      :loading="busy"
      @click="input?.click()"
    />
    <input
      ref="input"
      type="file"
      accept="image/jpeg,image/png,image/webp,image/avif,image/gif"
      class="visually-hidden"
      tabindex="-1"
      aria-hidden="true"
      @change="send"
    />
    <ProblemNote :problem="refused" class="wide" />
  </div>
</template>

<style scoped>
.picture {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.picture > .v-input {
  flex: 1;
  min-width: 140px;
}

img {
  object-fit: contain;
  border-radius: 4px;
  border: 1px solid var(--rule);
}

.wide {
  width: 100%;
}
</style>
