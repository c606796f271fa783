<script setup lang="ts">
import { useTemplateRef, type ComponentPublicInstance } from 'vue'
import { openLater, type Loader } from './openLater.ts'

/** A button with a menu. */
defineOptions({ inheritAttrs: false })
const props = defineProps<{ menu: Loader }>()
const button = useTemplateRef<ComponentPublicInstance>('button')
const { open, Opened } = openLater(props.menu)
</script>

<template>
  <v-btn ref="button" v-bind="$attrs" size="small" variant="text" aria-haspopup="menu" @click="open = true" />
  <Opened v-if="open" :activator="button" />
</template>
