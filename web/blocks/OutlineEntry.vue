<script setup lang="ts">
import { mdiContentCopy, mdiDeleteOutline } from '@mdi/js'

/** A line of an outline: what a part says, and what can be done with it while it is selected. */
defineProps<{
  id: string
  words: string
  selected: boolean
  /** The one that Tab leads to. */
  focusable: boolean
  /** It has others in it. */
  heads?: boolean
  canDuplicate?: boolean
  canDelete?: boolean
}>()
defineEmits<{ select: []; duplicate: []; delete: [] }>()
</script>

<template>
  <div class="entry" :class="{ heads, selected }">
    <div
      class="said"
      role="button"
      :tabindex="focusable ? 0 : -1"
      :data-row="id"
      :aria-current="selected || undefined"
      @click="$emit('select')"
    >
      <span class="words">{{ words }}</span>
      <slot />
    </div>
    <template v-if="selected">
      <v-btn
        v-if="canDuplicate"
        :icon="mdiContentCopy"
        size="x-small"
        variant="text"
        tabindex="-1"
        :aria-label="`Duplicate “${words}”`"
        @click.stop="$emit('duplicate')"
      />
      <v-btn
        v-if="canDelete"
        :icon="mdiDeleteOutline"
        size="x-small"
        variant="text"
        tabindex="-1"
        :aria-label="`Delete “${words}”`"
        @click.stop="$emit('delete')"
      />
    </template>
  </div>
</template>

<style scoped>
.entry {
  display: flex;
  align-items: center;
  gap: 4px;
  min-height: 26px;
  border-left: 2px solid transparent;
}

.said {
  flex: 1;
  min-width: 0;
  display: flex;
  align-items: center;
  gap: 4px;
  padding: 2px 6px;
  cursor: pointer;
}

.heads {
  font-weight: 700;
}

.words {
  flex: 1;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}

.entry:hover {
  background: color-mix(in srgb, var(--petrol) 7%, transparent);
}

.entry.selected {
  border-color: var(--petrol);
  background: color-mix(in srgb, var(--petrol) 12%, transparent);
}
</style>
