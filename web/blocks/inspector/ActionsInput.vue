<script setup lang="ts" generic="Action extends { does: string }">
import { mdiClose } from '@mdi/js'
import ActionMenu from '../../frame/ActionMenu.vue'
import type { ActionKind, ActionKinds } from './actionKinds.ts'
import FieldInput from './FieldInput.vue'

/** What is done with people by a form or a click, one action after the other. */
const props = defineProps<{ kinds: ActionKinds<Action> }>()
const actions = defineModel<readonly Action[]>({ required: true })

const all = Object.entries(props.kinds) as [Action['does'], ActionKind<Action>][]
const choices = all.map(([, { title, fresh }]) => ({
  title,
  run: () => (actions.value = [...actions.value, fresh]),
}))
const kindOf = ({ does }: Action): ActionKind<Action> =>
  props.kinds[does as Action['does']] as unknown as ActionKind<Action>
const set = (at: number, next: object): void => {
  actions.value = actions.value.map((each, i) => (i === at ? (next as Action) : each))
}
const remove = (at: number): void => {
  actions.value = actions.value.filter((_, i) => i !== at)
}
</script>

<template>
  <div class="actions">
    <div v-for="(action, i) in actions" :key="i" class="action">
      <div class="what">
        <strong>{{ kindOf(action).title }}</strong>
        <v-btn
          :icon="mdiClose"
          size="x-small"
          variant="text"
          :aria-label="`Remove “${kindOf(action).title}”`"
          @click="remove(i)"
        />
      </div>
      <FieldInput
        v-for="input in kindOf(action).inputs"
        :key="input.path"
        :field="input"
        :of="action"
        @update:of="(next: object) => set(i, next)"
      />
    </div>
    <ActionMenu label="Add" size="small" :actions="choices" />
  </div>
</template>

<style scoped>
.actions,
.action {
  display: grid;
  gap: 10px;
}

.action {
  border-left: 2px solid var(--rule);
  padding-left: 10px;
}

.what {
  display: flex;
  align-items: center;
  justify-content: space-between;
}
</style>
