<script setup lang="ts">
/** An editor as tall as the window: its bar, then outline (where it has one), sheet and inspector beside each other. */
defineSlots<{
  bar(): unknown
  outline?(): unknown
  sheet(): unknown
  inspector(): unknown
  /** What opens over it. */
  more?(): unknown
}>()
</script>

<template>
  <div class="desk">
    <slot name="bar" />
    <div class="beside" :class="{ outlined: $slots.outline }">
      <div v-if="$slots.outline" class="panel outline"><slot name="outline" /></div>
      <slot name="sheet" />
      <aside class="panel inspect" aria-label="Inspector"><slot name="inspector" /></aside>
    </div>
    <slot name="more" />
  </div>
</template>

<style scoped>
.desk {
  display: flex;
  flex-direction: column;
  height: calc(100vh - 104px);
  padding: 12px 24px 0;
}

.beside {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 360px;
  gap: 12px;
}

.beside.outlined {
  grid-template-columns: 240px minmax(0, 1fr) 360px;
}

.outline {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  min-height: 0;
  overflow: hidden;
}

.inspect {
  overflow: auto;
  padding: 14px 16px;
}

/* The way back to what stands around the selected part. */
.inspect > :slotted(.v-btn) {
  margin-top: 16px;
}

@media (max-width: 1100px) {
  .beside {
    grid-template-columns: minmax(0, 1fr) 300px;
  }

  .beside.outlined {
    grid-template-columns: 200px minmax(0, 1fr) 300px;
  }
}
</style>
