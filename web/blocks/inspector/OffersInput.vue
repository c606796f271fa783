<script setup lang="ts">
import { computed } from 'vue'
import { offered, type Offered } from '../../../core/blocks/kinds/selling.ts'
import { useSite } from '../site.ts'

/** Products of the Library at one of their prices, or at any of them. */
const props = defineProps<{
  label: string
  hint?: string | undefined
  several: boolean
  required?: boolean
}>()
const offers = defineModel<Offered[] | Offered | null>({ required: true })
const library = useSite()

const keyOf = ({ product, price }: Offered): string => `${product ?? ''}:${price ?? ''}`

const items = computed(() =>
  (library.site?.products ?? []).flatMap(({ id, name, live, prices }) => {
    const title = live ? name : `${name} (not on sale)`
    const whole = { value: keyOf({ product: id, price: null }), title }
    return prices.length < 2
      ? [whole]
      : [
          { ...whole, title: `${title}: any price` },
          ...prices.map((price) => ({
            value: keyOf({ product: id, price: price.id }),
            title: `${title}: ${price.name || price.words}`,
          })),
        ]
  }),
)
const read = (key: string): Offered => {
  const [product = '', price = ''] = key.split(':')
  return offered.parse({ product: product === '' ? null : Number(product), price: price || null })
}

const chosen = computed({
  get: () => {
    const given = offers.value
    if (Array.isArray(given)) return given.filter(({ product }) => product !== null).map(keyOf)
    return given && given.product !== null ? keyOf(given) : null
  },
  set: (next: string[] | string | null) => {
    if (props.several) offers.value = (Array.isArray(next) ? next : []).map(read)
    else offers.value = typeof next === 'string' ? read(next) : props.required ? read(':') : null
  },
})
</script>

<template>
  <v-autocomplete
    v-model="chosen"
    :label="label"
    :items="items"
    :multiple="several"
    :chips="several"
    :hint="hint"
    :persistent-hint="hint !== undefined"
    clearable
    :closable-chips="several"
  />
</template>
