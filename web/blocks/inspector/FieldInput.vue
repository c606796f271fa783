<script setup lang="ts">
import { computed } from 'vue'
import type { Block } from '../../../core/blocks/block.ts'
import type { Target } from '../../../core/blocks/target.ts'
import DeadlineSelect from '../../commerce/DeadlineSelect.vue'
import MomentInput from '../../frame/MomentInput.vue'
import { valueAt, withValueAt } from '../paths.ts'
import { useSite } from '../site.ts'
import EntriesInput from './EntriesInput.vue'
import { things, type Field } from './fields.ts'
import LinesInput from './LinesInput.vue'
import { isMergeable } from './mergeable.ts'
import MergeTextField from './MergeTextField.vue'
import OffersInput from './OffersInput.vue'
import PictureInput from './PictureInput.vue'
import TargetInput from './TargetInput.vue'
import VideoInput from './VideoInput.vue'

/** One control of the inspector, for a value of the thing that it is about. */
const props = defineProps<{ field: Field }>()
const of = defineModel<object>('of', { required: true })
type Chosen = number | null
type Moment = string | null
type Offers = Block<'orderForm'>['offers'] | Block<'orderForm'>['extra']

const library = useSite()
const mergeable = isMergeable()

const value = computed({
  get: () => valueAt(of.value, props.field.path) as never,
  set: (next: unknown) => (of.value = withValueAt(of.value, props.field.path, next)),
})
const named = computed((): { value: number; title: string }[] => {
  const all = props.field.as === 'thing' ? library.site?.[things[props.field.thing]] : undefined
  return (all ?? []).map(({ id, name }) => ({ value: id, title: name }))
})
</script>

<template>
  <MergeTextField
    v-if="mergeable && (field.as === 'line' || field.as === 'sentences')"
    :key="field.path"
    v-model="value"
    :label="field.label"
    :hint="field.hint"
    :rows="field.as === 'sentences' ? 2 : 1"
  />
  <v-text-field
    v-else-if="field.as === 'line'"
    v-model="value"
    :label="field.label"
    :hint="field.hint"
    :persistent-hint="field.hint !== undefined"
  />
  <v-textarea
    v-else-if="field.as === 'sentences' || field.as === 'markup'"
    v-model="value"
    :label="field.label"
    :hint="field.hint"
    :persistent-hint="field.hint !== undefined"
    :rows="field.as === 'markup' ? 8 : 2"
    :class="{ figures: field.as === 'markup' }"
  />
  <v-switch
    v-else-if="field.as === 'yes'"
    v-model="value"
    :label="field.label"
    :hint="field.hint"
    :persistent-hint="field.hint !== undefined"
    :hide-details="field.hint === undefined"
  />
  <v-select v-else-if="field.as === 'choice'" v-model="value" :label="field.label" :items="field.items" />
  <v-number-input
    v-else-if="field.as === 'number'"
    v-model="value"
    :label="field.label"
    :min="field.least"
    :max="field.most"
  />
  <TargetInput
    v-else-if="field.as === 'target'"
    :model-value="value as Target"
    :label="field.label"
    @update:model-value="(next: Target) => (value = next as never)"
  />
  <PictureInput
    v-else-if="field.as === 'picture'"
    :model-value="value as Chosen"
    :label="field.label"
    @update:model-value="(next: number | null) => (value = next as never)"
  />
  <VideoInput
    v-else-if="field.as === 'video'"
    :model-value="value as Block<'video'>['source']"
    @update:model-value="(next: Block<'video'>['source']) => (value = next as never)"
  />
  <MomentInput
    v-else-if="field.as === 'moment'"
    :model-value="value as Moment"
    :label="field.label"
    :zone="library.site?.business.zone ?? 'UTC'"
    @update:model-value="(next: string | null) => (value = next as never)"
  />
  <DeadlineSelect
    v-else-if="field.as === 'deadline'"
    :model-value="value as Moment"
    :label="field.label"
    @update:model-value="(next: string | null) => (value = next as never)"
  />
  <v-autocomplete
    v-else-if="field.as === 'thing'"
    v-model="value"
    :label="field.label"
    :items="named"
    :multiple="field.several"
    :chips="field.several"
    clearable
  />
  <OffersInput
    v-else-if="field.as === 'offers'"
    :model-value="value as Offers"
    :label="field.label"
    :hint="field.hint"
    :several="field.several"
    :required="field.path === 'offer'"
    @update:model-value="(next: Offers) => (value = next as never)"
  />
  <LinesInput
    v-else-if="field.as === 'lines'"
    :model-value="value as string[]"
    :label="field.label"
    :one="field.one"
    @update:model-value="(next: readonly string[]) => (value = next as never)"
  />
  <EntriesInput
    v-else-if="field.as === 'entries'"
    v-slot="{ entry, set }"
    :model-value="value as object[]"
    :one="field.one"
    :fresh="field.fresh"
    :may-be-empty="field.mayBeEmpty"
    @update:model-value="(next: readonly object[]) => (value = next as never)"
  >
    <FieldInput v-for="inner in field.fields" :key="inner.path" :field="inner" :of="entry" @update:of="set" />
  </EntriesInput>
</template>
