<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import type { FileFormat } from '../../../contract/audience/imports.ts'
import { guessFieldKind } from '../../../core/audience/describing/field.ts'
import type { ColumnTarget } from '../../../core/audience/imports/columns.ts'
import { builtInField } from '../../../core/audience/segments/condition.ts'
import { builtInFieldWords } from '../../../core/audience/segments/describe.ts'
import InlineSelect from '../../frame/InlineSelect.vue'
import FieldDialog from '../describing/FieldDialog.vue'
import { useVocabulary } from '../segments/vocabulary.ts'

/** The columns of a file with some of their cells, and where each goes. */
const props = defineProps<{ format: FileFormat; disabled: boolean }>()
const targets = defineModel<ColumnTarget[]>({ required: true })
const vocabulary = useVocabulary()
onMounted(() => void vocabulary.reload())

/** A target as the value of a choice, and back. */
function keyOf(target: ColumnTarget): string {
  switch (target.kind) {
    case 'skip':
    case 'tags':
      return target.kind
    case 'builtIn':
    case 'own':
      return `${target.kind} ${target.field}`
  }
}

function targetOf(key: string): ColumnTarget {
  const [kind, name = ''] = key.split(' ')
  if (kind === 'own') return { kind, field: Number(name) }
  if (kind === 'builtIn') return { kind, field: builtInField.parse(name) }
  return kind === 'tags' ? { kind } : { kind: 'skip' }
}

const newField = 'new'
const choices = computed(() => [
  { value: 'skip', title: 'Skip' },
  ...builtInField.options.map((field) => ({ value: `builtIn ${field}`, title: builtInFieldWords[field] })),
  { value: 'tags', title: 'tags' },
  ...vocabulary.words.fields.map(({ id, name }) => ({ value: `own ${id}`, title: name })),
])
const offered = computed(() => [...choices.value, { value: newField, title: 'New field…' }])
const titleOf = (key: string): string =>
  choices.value.find(({ value }) => value === key)?.title ?? 'Deleted field'

const rows = computed(() =>
  props.format.columns.map((name, at) => ({
    at,
    name: name || `Column ${at + 1}`,
    key: keyOf(targets.value[at] ?? { kind: 'skip' }),
    cells: props.format.samples.map((row) => row[at] ?? '').filter(Boolean),
  })),
)
type Row = (typeof rows.value)[number]

const set = (at: number, target: ColumnTarget): void => {
  targets.value = targets.value.map((each, i) => (i === at ? target : each))
}

/** The column for which a new field is being created. */
const creating = ref<Row | null>(null)
function choose(row: Row, key: string): void {
  if (key === newField) creating.value = row
  else set(row.at, targetOf(key))
}
async function useField(row: Row | null, field: number): Promise<void> {
  await vocabulary.reload()
  if (row) set(row.at, { kind: 'own', field })
}

const columns = [
  { title: 'Column', key: 'name', sortable: false },
  { title: 'Imported as', key: 'key', sortable: false },
  { title: 'Examples', key: 'cells', sortable: false },
]
</script>

<template>
  <v-data-table-virtual :headers="columns" :items="rows" item-value="at" class="columns">
    <template #[`item.key`]="{ item }">
      <span v-if="disabled" :class="{ soft: item.key === 'skip' }">
        {{ item.key === 'skip' ? 'Skipped' : titleOf(item.key) }}
      </span>
      <InlineSelect
        v-else
        :label="`Import ${item.name} as`"
        :items="offered"
        :model-value="item.key"
        @update:model-value="(key) => choose(item, key)"
      />
    </template>
    <template #[`item.cells`]="{ item }">
      <span class="cells soft">{{ item.cells.slice(0, 3).join(' | ') }}</span>
    </template>
  </v-data-table-virtual>
  <FieldDialog
    v-if="creating"
    :model-value="true"
    :suggestion="{ name: creating.name.slice(0, 80), kind: guessFieldKind(creating.cells) }"
    @created="(field) => useField(creating, field)"
    @update:model-value="creating = null"
  />
</template>

<style scoped>
.columns {
  max-height: 460px;
}

.cells {
  overflow-wrap: anywhere;
}
</style>
