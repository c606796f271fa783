<script setup lang="ts">
import { computed } from 'vue'
import type { Target } from '../../core/blocks/target.ts'
import { otherwise, type JunctionRule } from '../../core/junctions/junction.ts'
import ConditionGroup from '../audience/segments/ConditionGroup.vue'
import { asGroup, type Group } from '../audience/segments/subjects.ts'
import TargetInput from '../blocks/inspector/TargetInput.vue'
import type { JunctionEditing } from './junctionEditing.ts'

/** What a rule asks and where it leads; of `otherwise`, where it leads. */
const props = defineProps<{ editing: JunctionEditing }>()
const { content, rule, selected, set, setRule, shift, duplicate, remove } = props.editing
const place = computed(() => content.value.rules.findIndex(({ id }) => id === selected.value))
const change = (given: Partial<JunctionRule>): void => {
  if (rule.value) setRule({ ...rule.value, ...given })
}
</script>

<template>
  <div v-if="rule" :key="rule.id" class="parts">
    <h2>Rule {{ place + 1 }}</h2>
    <v-text-field
      :model-value="rule.name"
      label="Name, for you"
      maxlength="300"
      @update:model-value="(name: string) => change({ name })"
    />
    <h3>Takes whoever</h3>
    <ConditionGroup
      :model-value="asGroup(rule.when)"
      :depth="0"
      @update:model-value="(when: Group) => change({ when })"
    />
    <TargetInput
      :model-value="rule.target"
      label="Sends them to"
      @update:model-value="(target: Target) => change({ target })"
    />
    <div class="doing">
      <v-btn size="small" variant="outlined" :disabled="place === 0" @click="shift(rule.id, -1)"
        >Move up</v-btn
      >
      <v-btn
        size="small"
        variant="outlined"
        :disabled="place === content.rules.length - 1"
        @click="shift(rule.id, 1)"
        >Move down</v-btn
      >
      <v-btn size="small" variant="text" @click="duplicate(rule.id)">Duplicate</v-btn>
      <v-btn size="small" variant="text" color="error" @click="remove(rule.id)">Delete</v-btn>
    </div>
  </div>
  <div v-else-if="selected === otherwise" class="parts">
    <h2>Otherwise</h2>
    <p class="soft">Everybody whom no rule takes, and visitors we do not know.</p>
    <TargetInput
      :model-value="content.otherwise"
      label="Sends them to"
      @update:model-value="(target: Target) => set({ otherwise: target })"
    />
  </div>
</template>

<style scoped>
.parts {
  display: grid;
  gap: 10px;
}

.parts p {
  margin: 0;
}

.doing {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
