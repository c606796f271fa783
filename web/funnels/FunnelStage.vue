<script setup lang="ts">
defineProps<{ id: number }>()
</script>

<template>
  <div class="screen">{{ id }}</div>
</template>
