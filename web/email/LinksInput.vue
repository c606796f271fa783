<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import { clickActions, linkKey, type EmailContent } from '../../core/email/email.ts'
import type { LinkAction } from '../../core/email/linkAction.ts'
import { call } from '../api.ts'
import ActionsInput from '../blocks/inspector/ActionsInput.vue'
import { useLoaded } from '../loading.ts'
import { countOf, peopleOf } from '../wording.ts'
import { linkActionKinds } from './linkActionKinds.ts'

/** The links of an email: how often each was followed, and what a click does. */
const props = defineProps<{ id: number; content: EmailContent }>()
const emit = defineEmits<{ change: [onClick: EmailContent['onClick']] }>()

const { data } = useLoaded(
  (signal) => call(api.emails.links, { params: { id: props.id }, signal }),
  ['audience', 'email', 'pages'],
)
const links = computed(() =>
  clickActions(props.content).map(({ link, actions }) => {
    const key = linkKey(link)
    const counted = data.value?.find((each) => each.key === key)
    return { key, label: link.label || 'a link without words', actions, counted }
  }),
)
const gone = computed(() => data.value?.filter((each) => each.gone && each.people > 0) ?? [])

const set = (key: string, actions: readonly LinkAction[]): void => {
  emit('change', { ...props.content.onClick, [key]: [...actions] })
}
</script>

<template>
  <div class="links">
    <p v-if="links.length === 0" class="soft">It leads nowhere yet.</p>
    <div v-for="link in links" :key="link.key" class="link">
      <strong>{{ link.label }}</strong>
      <p class="soft">
        <template v-if="link.counted">
          Clicked by {{ peopleOf(link.counted.people)
          }}<template v-if="link.counted.machines"
            >, {{ countOf(link.counted.machines) }} times by machines</template
          >. A click also:
        </template>
        <template v-else>A click also:</template>
      </p>
      <ActionsInput
        :kinds="linkActionKinds"
        :model-value="link.actions"
        @update:model-value="(actions: readonly LinkAction[]) => set(link.key, actions)"
      />
    </div>
    <p v-for="link in gone" :key="link.key" class="soft">
      “{{ link.label }}” stands here no more; {{ peopleOf(link.people) }} clicked it.
    </p>
  </div>
</template>

<style scoped>
.links,
.link {
  display: grid;
  gap: 8px;
}

.links p {
  margin: 0;
}
</style>
