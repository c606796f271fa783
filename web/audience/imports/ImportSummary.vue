<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../../contract/api.ts'
import type { ImportChoices } from '../../../contract/audience/imports.ts'
import { call } from '../../api.ts'
import { useLoaded } from '../../loading.ts'
import { existingWords, permissionWords } from './optionWords.ts'

/** The options of an import that has begun, as text. */
const props = defineProps<{ choices: ImportChoices }>()
const { data: topics } = useLoaded((signal) => call(api.topics.list, { signal }), [])

const topicNames = computed(() =>
  (topics.value ?? []).filter(({ id }) => props.choices.topics.includes(id)).map(({ name }) => name),
)
</script>

<template>
  <dl>
    <dt>People already on the list</dt>
    <dd>{{ existingWords[choices.existing] }}</dd>
    <dt>Permission</dt>
    <dd>
      {{ permissionWords[choices.permission] }}
      <q v-if="choices.statement">{{ choices.statement }}</q>
    </dd>
    <dt>Tags added</dt>
    <dd>{{ choices.tags.join(', ') || 'none' }}</dd>
    <template v-if="topicNames.length">
      <dt>Topics</dt>
      <dd>{{ topicNames.join(', ') }}</dd>
    </template>
    <dt>Follow-ups</dt>
    <dd>{{ choices.startFollowups ? 'started by these tags' : 'not started' }}</dd>
  </dl>
</template>

<style scoped>
dl {
  margin: 0;
}

dt {
  color: var(--ink-soft);
}

dd {
  margin: 0 0 12px;
  overflow-wrap: anywhere;
}

q {
  display: block;
  color: var(--ink-soft);
}
</style>
