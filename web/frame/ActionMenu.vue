<script setup lang="ts">
/** A short menu of what can be done, behind a button. */
defineProps<{
  label: string
  actions: readonly {
    title: string
    run?: () => void
    /** A file that the action opens. */
    href?: string
    destructive?: boolean
  }[]
  disabled?: boolean
  size?: 'small' | 'default'
}>()
</script>

<template>
  <v-menu>
    <template #activator="{ props: menu }">
      <v-btn v-bind="menu" variant="outlined" :size="size ?? 'default'" :disabled="disabled">{{
        label
      }}</v-btn>
    </template>
    <v-list role="menu">
      <v-list-item
        v-for="action in actions"
        :key="action.title"
        role="menuitem"
        :title="action.title"
        :href="action.href"
        :base-color="action.destructive ? 'error' : undefined"
        @click="action.run?.()"
      />
    </v-list>
  </v-menu>
</template>
