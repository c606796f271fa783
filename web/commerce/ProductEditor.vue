<script setup lang="ts">
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import OpeningNote from '../blocks/OpeningNote.vue'
import { useOpenThing } from '../blocks/openThing.ts'
import ProductDesk from './ProductDesk.vue'

/** Opens a product to be edited, with all that it can bring. */
const props = defineProps<{ id: number }>()
const { view, problem, edition, library, reload } = useOpenThing(() =>
  call(api.products.view, { params: { id: props.id } }),
)
</script>

<template>
  <ProductDesk v-if="view && library.site" :key="edition" :view="view" @reload="reload" />
  <OpeningNote v-else title="Product" :problem="problem" />
</template>
