<script setup lang="ts">
/** A few figures beside each other, each with what it counts: `div`s of `dt` and `dd`. */
defineProps<{ label: string }>()
</script>

<template>
  <section class="panel" :aria-label="label">
    <dl class="row"><slot /></dl>
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  margin: 0;
  padding: 14px 18px;
}

.row :deep(dd) {
  margin: 0;
  font-size: 20px;
}
</style>
