<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { z } from 'zod'
import * as api from '../../contract/api.ts'
import { libraryName } from '../../contract/drafts.ts'
import type { ProductRow } from '../../contract/products.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import { freshPrice } from '../../core/commerce/price.ts'
import { productContent } from '../../core/commerce/product.ts'
import { call } from '../api.ts'
import { newPartId } from '../blocks/editing.ts'
import LabelledList from '../blocks/LabelledList.vue'
import { useThingActions } from '../blocks/thingActions.ts'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'

/** The products of the Library. */
const editors = '/library/products'
const router = useRouter()
const session = useSession()
const { data, problem } = useLoaded((signal) => call(api.products.list, { signal }), ['pages', 'audience'])
const things = useThingActions<ProductRow>(api.products, { route: api.products.copy, path: editors })
const income = ({ income: amount }: ProductRow): string =>
  moneyWords({ amount, currency: session.me?.business.currency ?? 'EUR' })

const making = ref(false)
const form = useForm(z.object({ name: libraryName }), { name: '' })
async function create(): Promise<void> {
  let made = 0
  const through = await form.submit(async ({ name }) => {
    const content = productContent.parse({ title: name, prices: [freshPrice(newPartId())] })
    made = (await call(api.products.create, { body: { name, content } })).id
  })
  if (through) await router.push(`${editors}/${made}`)
}
</script>

<template>
  <LabelledList
    v-model:making="making"
    title="Products"
    word="product"
    :editors="editors"
    :rows="data"
    :problem="problem"
    :things="things"
    :about="[
      { key: 'prices', title: 'Costs now', words: ({ prices }) => prices.join(' or ') || 'no price' },
      { key: 'sold', title: 'Sold, 30 days', words: ({ sold }) => countOf(sold) },
      { key: 'income', title: 'Income', words: income },
    ]"
  >
    <template #none>No products yet. One is sold at one price or several.</template>
    <template #lost><p>Only what was never on sale can be deleted.</p></template>
    <template #make>
      <QuickDialog
        v-model="making"
        title="New product"
        submit-label="Make product"
        :problem="form.problem"
        :busy="form.busy"
        @submit="create"
      >
        <v-text-field v-bind="form.field('name')" label="Name" placeholder="A field guide" autofocus />
      </QuickDialog>
    </template>
  </LabelledList>
</template>
