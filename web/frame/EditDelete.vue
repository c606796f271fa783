<script setup lang="ts">
/** What can be done with a row of a list: it is edited in a dialog, or deleted. */
defineProps<{ name: string }>()
const emit = defineEmits<{ edit: []; delete: [] }>()
</script>

<template>
  <v-btn size="small" variant="text" color="primary" :aria-label="`Edit ${name}`" @click="emit('edit')">
    Edit
  </v-btn>
  <v-btn size="small" variant="text" color="error" :aria-label="`Delete ${name}`" @click="emit('delete')">
    Delete
  </v-btn>
</template>
