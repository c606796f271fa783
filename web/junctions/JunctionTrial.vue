<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import * as api from '../../contract/api.ts'
import type { TriedJunction } from '../../contract/junctions.ts'
import type { JunctionContent } from '../../core/junctions/junction.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import PersonSearch from '../audience/people/PersonSearch.vue'
import ProblemNote from '../frame/ProblemNote.vue'

/** Tries a junction as one person or somebody in rehearsal: where they would be sent, and why. */
const props = defineProps<{ id: number; content: JunctionContent }>()
const emit = defineEmits<{ sent: [rule: string | null] }>()
const person = ref<number | null>(null)
const tried = ref<TriedJunction | null>(null)
const { refused, attempt } = useAttempts()
let asked = 0

/** Asks once one has stopped writing; only the newest answer is shown. */
async function ask(): Promise<void> {
  const mine = (asked += 1)
  const contact = person.value
  const answered: { tried: TriedJunction | null } = { tried: null }
  if (contact !== null)
    await attempt(async () => {
      const body = { content: props.content, contact }
      answered.tried = await call(api.junctions.try, { params: { id: props.id }, body })
    })
  if (mine !== asked) return
  tried.value = answered.tried
  emit('sent', answered.tried?.rule ?? null)
}
const askSoon = useDebounceFn(ask, 400)
watch(person, ask)
watch(
  () => props.content,
  () => person.value !== null && void askSoon(),
)
const place = computed(() => {
  const at = props.content.rules.findIndex(({ id }) => id === tried.value?.rule)
  return at < 0 ? 'Otherwise' : `Rule ${at + 1}`
})
</script>

<template>
  <section class="panel trial" aria-label="Try it">
    <h2>Try it as</h2>
    <PersonSearch v-model="person" label="Person" />
    <ProblemNote :problem="refused" />
    <p v-if="tried" role="status">
      <strong>{{ place }}</strong> sends them to {{ tried.to }}. <span class="soft">{{ tried.reason }}</span>
    </p>
  </section>
</template>

<style scoped>
.trial {
  display: grid;
  grid-template-columns: auto 260px minmax(0, 1fr);
  gap: 12px;
  align-items: center;
  padding: 10px 16px;
}

.trial h2 {
  padding: 0;
  border: 0;
}

.trial p {
  margin: 0;
}
</style>
