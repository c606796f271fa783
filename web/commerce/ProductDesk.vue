<script setup lang="ts">
import { useNow } from '@vueuse/core'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import type { ProductView } from '../../contract/products.ts'
import { productContent, type ProductContent } from '../../core/commerce/product.ts'
import { call } from '../api.ts'
import { useDesk } from '../blocks/desk.ts'
import DeskHead from '../blocks/DeskHead.vue'
import { useDraft, type DraftKind } from '../blocks/draft.ts'
import EditorDesk from '../blocks/EditorDesk.vue'
import BuyersPay from './BuyersPay.vue'
import { useProductEditing } from './productEditing.ts'
import PriceInspector from './PriceInspector.vue'
import PriceList from './PriceList.vue'
import ProductInspector from './ProductInspector.vue'
import TaxDialog from './TaxDialog.vue'

/** The editor of a product: its price list, what buyers pay by it, and the inspector. */
const props = defineProps<{ view: ProductView }>()
const emit = defineEmits<{ reload: [] }>()
const router = useRouter()
const params = { id: props.view.id }

const products: DraftKind<ProductContent, ProductView> = {
  name: 'product',
  shape: productContent,
  save: async (id, body) => ({
    ...props.view,
    ...(await call(api.products.save, { params: { id }, body })),
    content: body.content,
  }),
}
const draft = useDraft(products, props.view)
const editing = useProductEditing(props.view.content)
const { content, selected } = editing
watch(content, (next) => draft.set(next))

const moment = useNow({ interval: 60_000 })
const now = computed(() => moment.value.getTime())
const taxing = ref(false)

const inspector = useTemplateRef<HTMLElement>('inspector')
async function edit(): Promise<void> {
  await nextTick()
  inspector.value?.querySelector<HTMLElement>('input:not([type=hidden])')?.focus()
}

const desk = useDesk(products, props.view.id, draft, {
  open: editing.replace,
  publish: (body) => call(api.products.publish, { params, body }),
  async keepAsCopy(kept) {
    const body = { name: `${props.view.name} (mine)`.slice(0, 120), content: kept }
    const { id } = await call(api.products.create, { body })
    await router.push(`/library/products/${id}`)
  },
  reload: () => emit('reload'),
})

/** A finding leads to its price. */
function go(part: string): void {
  if (content.value.prices.some(({ id }) => id === part)) selected.value = part
}
async function taxSaved(): Promise<void> {
  await draft.save()
  emit('reload')
}
</script>

<template>
  <EditorDesk>
    <template #bar>
      <DeskHead
        :name="view.name"
        :state="view.state"
        :draft="draft"
        :history="editing"
        :desk="desk"
        @go="go"
        @reload="emit('reload')"
      />
    </template>
    <template #sheet>
      <div class="middle">
        <PriceList
          :editing="editing"
          :currency="view.selling.currency"
          :zone="view.selling.zone"
          :now="now"
          :findings="draft.state.value.findings"
          @edit="edit"
        />
        <BuyersPay
          :content="content"
          :selling="view.selling"
          :coupons="view.coupons"
          :now="now"
          @tax="taxing = true"
        />
      </div>
    </template>
    <template #inspector>
      <div v-if="selected !== null" ref="inspector">
        <PriceInspector
          :own="view.id"
          :editing="editing"
          :currency="view.selling.currency"
          :zone="view.selling.zone"
        />
      </div>
      <v-btn v-if="selected !== null" variant="text" size="small" @click="selected = null">
        Product settings
      </v-btn>
      <ProductInspector v-else :view="view" :editing="editing" :save="draft.save" @reload="emit('reload')" />
    </template>
    <template #more>
      <TaxDialog v-if="taxing" v-model="taxing" :tax="view.selling.tax" @saved="taxSaved" />
    </template>
  </EditorDesk>
</template>

<style scoped>
.middle {
  display: flex;
  flex-direction: column;
  gap: 12px;
  overflow: auto;
  padding-bottom: 12px;
}

.middle > * {
  flex: none;
}
</style>
