<script setup lang="ts">
import { computed, onMounted } from 'vue'
import type { FileFormat } from '../../../contract/audience/imports.ts'
import { builtInField } from '../../../core/audience/segments/condition.ts'
import type { ColumnTarget } from '../../../core/audience/imports/columns.ts'
import { builtInFieldWords } from '../../../core/audience/segments/describe.ts'
import { useVocabulary } from '../segments/vocabulary.ts'

/** The columns of a file with some of their cells, and what each is taken for. */
const props = defineProps<{ format: FileFormat; disabled: boolean }>()
const columns = defineModel<ColumnTarget[]>({ required: true })
const vocabulary = useVocabulary()
onMounted(() => void vocabulary.reload())

const names = computed(() => props.format.columns.map((name, i) => name || `no. ${i + 1}`))
const samples = computed(() => props.format.samples.slice(0, 3))

/** A target as the value of an option, and back. */
function keyOf(target: ColumnTarget): string {
  if (target.kind === 'builtIn') return `builtIn ${target.field}`
  return target.kind === 'own' ? `own ${target.field}` : target.kind
}

function targetOf(key: string): ColumnTarget {
  const [kind, name = ''] = key.split(' ')
  if (kind === 'own') return { kind, field: Number(name) }
  if (kind === 'builtIn') return { kind, field: builtInField.parse(name) }
  return kind === 'tags' ? { kind } : { kind: 'skip' }
}

function choose(at: number, event: Event): void {
  const target = targetOf((event.target as HTMLSelectElement).value)
  columns.value = columns.value.map((each, i) => (i === at ? target : each))
}
</script>

<template>
  <div class="wide" tabindex="0" role="region" aria-label="Columns of the file">
    <table class="list">
      <thead>
        <tr>
          <th>Column</th>
          <th>Goes to</th>
          <th>Some of its cells</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(name, i) in names" :key="i">
          <td>{{ name }}</td>
          <td>
            <select
              class="plain"
              :class="{ skipped: columns[i]?.kind === 'skip' }"
              :aria-label="`What the column ${name} holds`"
              :disabled="disabled"
              :value="keyOf(columns[i] ?? { kind: 'skip' })"
              @change="choose(i, $event)"
            >
              <option value="skip">nothing: skip it</option>
              <option v-for="field in builtInField.options" :key="field" :value="`builtIn ${field}`">
                {{ builtInFieldWords[field] }}
              </option>
              <option value="tags">tags</option>
              <option v-for="field in vocabulary.words.fields" :key="field.id" :value="`own ${field.id}`">
                {{ field.name }}
              </option>
            </select>
          </td>
          <td class="cells soft">
            {{
              samples
                .map((row) => row[i] ?? '')
                .filter(Boolean)
                .join(' | ')
            }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.wide {
  overflow: auto;
  max-height: 420px;
}

.skipped {
  color: var(--ink-soft);
}

.cells {
  overflow-wrap: anywhere;
}
</style>
