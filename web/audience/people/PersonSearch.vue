<script lang="ts">
/** Somebody who reads an email. */
export interface Reader {
  id: number
  name: string
  address: string
}
</script>

<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { ref } from 'vue'
import * as api from '../../../contract/api.ts'
import { call } from '../../api.ts'

/** Finds one person by typing their name or address; rehearsal people come first. */
const props = withDefaults(defineProps<{ label: string; first?: Reader | null }>(), { first: null })
const chosen = defineModel<number | null>({ required: true })
interface Item {
  value: number
  title: string
  subtitle: string
}
/** Who was chosen stays among the items, whatever is searched for next. */
const items = ref<Item[]>(
  props.first
    ? [
        {
          value: props.first.id,
          title: props.first.name || props.first.address,
          subtitle: props.first.address,
        },
      ]
    : [],
)

async function find(search: string): Promise<void> {
  const groups = await Promise.all(
    (['only', 'no'] as const).map((rehearsal) =>
      call(api.people.find, { body: { search, rehearsal, size: 10 } }),
    ),
  )
  const kept = items.value.filter(({ value }) => value === chosen.value)
  const found = groups
    .flatMap(({ rows }) => rows)
    .map(({ id, name, address, rehearsal }) => ({
      value: id,
      title: `${name || address}${rehearsal ? ' (rehearsal)' : ''}`,
      subtitle: address,
    }))
  const ids = new Set(found.map(({ value }) => value))
  items.value = [...kept.filter(({ value }) => !ids.has(value)), ...found]
}
const findSoon = useDebounceFn((search: string) => find(search).catch(() => undefined), 250)
void findSoon('')
</script>

<template>
  <v-autocomplete
    v-model="chosen"
    :label="label"
    :items="items"
    :item-props="({ subtitle }) => ({ subtitle })"
    no-filter
    clearable
    @update:search="(search: string) => findSoon(search)"
  />
</template>
