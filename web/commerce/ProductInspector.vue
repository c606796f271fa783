<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import { productSettings, type ProductView } from '../../contract/products.ts'
import { mostPictures } from '../../core/commerce/product.ts'
import type { Delivery } from '../../core/commerce/delivery.ts'
import { nowhere } from '../../core/blocks/target.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ActionsInput from '../blocks/inspector/ActionsInput.vue'
import PictureInput from '../blocks/inspector/PictureInput.vue'
import TargetInput from '../blocks/inspector/TargetInput.vue'
import VersionsInput from '../blocks/VersionsInput.vue'
import { useForm } from '../form.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { deliveryKinds } from './deliveryKinds.ts'
import type { ProductEditing } from './productEditing.ts'

/** The product as a whole: what buyers read and get, its name here, its versions. */
const props = defineProps<{ view: ProductView; editing: ProductEditing; save: () => Promise<boolean> }>()
const emit = defineEmits<{ reload: [] }>()
const { content, set } = props.editing
const { refused, attempt } = useAttempts()
const params = { id: props.view.id }

const form = useForm(productSettings, { name: props.view.name, labels: [...props.view.labels] })
async function keep(): Promise<void> {
  await props.save()
  if (await form.submit((body) => call(api.products.settings, { params, body }))) emit('reload')
}
async function goBack(version: number): Promise<void> {
  await props.save()
  if (await attempt(() => call(api.products.goBack, { params, body: { version } }))) emit('reload')
}
/** The pictures, and room for one more. */
const pictures = computed(() => [...content.value.pictures, null].slice(0, mostPictures))
function setPicture(at: number, picture: number | null): void {
  const { pictures } = content.value
  set({ pictures: picture === null ? pictures.toSpliced(at, 1) : pictures.toSpliced(at, 1, picture) })
}
</script>

<template>
  <div class="parts">
    <h2>Product</h2>
    <v-text-field
      :model-value="content.title"
      label="Name"
      hint="As buyers read it"
      persistent-hint
      @update:model-value="(title: string) => set({ title })"
    />
    <v-textarea
      :model-value="content.description"
      label="Description"
      hint="It goes on the invoice"
      persistent-hint
      rows="2"
      counter="500"
      @update:model-value="(description: string) => set({ description })"
    />
    <PictureInput
      v-for="(picture, at) in pictures"
      :key="`${at} ${picture}`"
      :model-value="picture"
      :label="at === 0 ? 'Picture' : `Picture ${at + 1}`"
      @update:model-value="(next: number | null) => setPicture(at, next)"
    />
    <v-switch
      :model-value="content.taxed"
      label="Taxed"
      @update:model-value="(wanted: boolean | null) => set({ taxed: wanted === true })"
    />
    <h2>What buyers get</h2>
    <ActionsInput
      :model-value="content.brings"
      :kinds="deliveryKinds"
      @update:model-value="(brings: readonly Delivery[]) => set({ brings: [...brings] })"
    />
    <v-switch
      :model-value="content.bringsNothing"
      label="Nothing but thanks"
      hint="For a service, or what is sent by post"
      persistent-hint
      @update:model-value="(wanted: boolean | null) => set({ bringsNothing: wanted === true })"
    />
    <TargetInput
      :model-value="content.after ?? nowhere"
      label="After paying, buyers go to"
      :only="['nowhere', 'nextStep', 'page', 'web', 'path', 'junction', 'quiz']"
      @update:model-value="(after) => set({ after })"
    />
    <h2>In the Library</h2>
    <ProblemNote :problem="form.problem ?? refused" />
    <v-text-field v-bind="form.field('name')" label="Name in the Library" />
    <v-combobox v-bind="form.field('labels')" label="Labels" multiple chips closable-chips />
    <v-btn size="small" variant="outlined" :loading="form.busy" @click="keep">Save</v-btn>
    <p v-if="view.usedIn.length" class="soft">Used in {{ view.usedIn.join(', ') }}</p>
    <VersionsInput :versions="view.versions" @go-back="goBack" />
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
</style>
