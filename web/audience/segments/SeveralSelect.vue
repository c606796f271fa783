<script setup lang="ts">
import { computed, nextTick, useTemplateRef } from 'vue'

/** One or more of many choices, as a sentence names them: "Ireland or Spain". */
const props = defineProps<{
  choices: readonly { value: string; title: string }[]
  label: string
  /** What stands between two of them. */
  between?: string
}>()
/** At least one; what stands for none is not among the choices. */
const chosen = defineModel<readonly string[]>({ required: true })

const none = '…'
/** Conditions compare text without regard to letters' case. */
const same = (one: string, other: string): boolean => one.toLowerCase() === other.toLowerCase()
const named = computed(() =>
  chosen.value
    .filter((value) => value !== none)
    .map((value) => ({ value, title: props.choices.find((each) => same(each.value, value))?.title })),
)
const rest = computed(() =>
  props.choices.filter((each) => !chosen.value.some((value) => same(each.value, value))),
)
const adder = useTemplateRef<HTMLSelectElement>('adder')

function add(event: Event): void {
  const select = event.target as HTMLSelectElement
  chosen.value = [...named.value.map(({ value }) => value), select.value]
  select.value = ''
}

async function takeAway(gone: string): Promise<void> {
  const left = named.value.map(({ value }) => value).filter((value) => value !== gone)
  chosen.value = left.length > 0 ? left : [none]
  await nextTick()
  adder.value?.focus()
}
</script>

<template>
  <span class="several">
    <template v-for="({ value, title }, i) in named" :key="value">
      <span v-if="i > 0">{{ between ?? 'or' }}</span>
      <span class="tag" :class="{ gone: !title }">
        {{ title ?? 'something deleted' }}
        <button
          type="button"
          class="off"
          :aria-label="`Take away ${title ?? 'what was deleted'}`"
          @click="takeAway(value)"
        >
          ×
        </button>
      </span>
    </template>
    <select v-if="rest.length" ref="adder" class="plain" :aria-label="label" :value="''" @change="add">
      <option value="" disabled>{{ named.length ? `${between ?? 'or'}…` : 'choose' }}</option>
      <option v-for="each in rest" :key="each.value" :value="each.value">{{ each.title }}</option>
    </select>
  </span>
</template>

<style scoped>
.several {
  display: inline-flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}

.several .tag {
  margin: 0;
  padding: 3px 4px 3px 8px;
}

.gone {
  border-color: var(--stop);
  color: var(--stop);
}
</style>
