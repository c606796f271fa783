<script setup lang="ts">
import {
  defineAsyncComponent,
  ref,
  useTemplateRef,
  type AsyncComponentLoader,
  type ComponentPublicInstance,
} from 'vue'

/** A button with a menu that is loaded when it is first opened: a screen has to load only what it shows. */
defineOptions({ inheritAttrs: false })
const props = defineProps<{ menu: AsyncComponentLoader }>()
const Menu = defineAsyncComponent(props.menu)
const button = useTemplateRef<ComponentPublicInstance>('button')
const pressed = ref(false)
</script>

<template>
  <v-btn
    ref="button"
    v-bind="$attrs"
    size="small"
    variant="text"
    aria-haspopup="menu"
    @click="pressed = true"
  />
  <Menu v-if="pressed" :activator="button" />
</template>
