<script setup lang="ts" generic="Choice extends { title: string; foundBy?: string }">
import { computed, ref, watch } from 'vue'

/** A short list of what can be added, searched by typing. */
const props = defineProps<{ title: string; label: string; choices: readonly Choice[] }>()
const emit = defineEmits<{ choose: [choice: Choice] }>()
const open = defineModel<boolean>({ required: true })
const typed = ref('')
watch(open, () => (typed.value = ''))
const found = computed(() => {
  const wanted = typed.value.trim().toLowerCase()
  return props.choices.filter(({ title, foundBy = '' }) =>
    `${title} ${foundBy}`.toLowerCase().includes(wanted),
  )
})

function choose(choice: Choice | null): void {
  if (choice) emit('choose', choice)
  open.value = false
}
</script>

<template>
  <v-dialog v-model="open" width="420" :aria-label="title">
    <v-card class="add">
      <v-autocomplete
        v-model:search="typed"
        :model-value="null"
        :items="found"
        item-title="title"
        item-value="title"
        return-object
        no-filter
        auto-select-first
        autofocus
        :menu-props="{ modelValue: true, maxHeight: 420 }"
        :label="label"
        menu-icon=""
        @update:model-value="choose"
      >
        <template #no-data><v-list-item :title="`No results for “${typed}”`" /></template>
      </v-autocomplete>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.add {
  padding: 16px;
}
</style>
