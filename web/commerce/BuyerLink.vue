<script setup lang="ts">
/** Who buys: the person, where they are on the list. */
defineProps<{ contact: number | null; name: string; address: string }>()
</script>

<template>
  <router-link v-if="contact" :to="`/people/${contact}`">{{ name || address }}</router-link>
  <span v-else>{{ name || address }}</span>
</template>
