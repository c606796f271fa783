<script setup lang="ts">
import { reactive, watch } from 'vue'
import { useRouter } from 'vue-router'
import { personId } from '../../contract/audience.ts'
import { change } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import QuickDialog from '../frame/QuickDialog.vue'

const open = defineModel<boolean>({ required: true })
const router = useRouter()

const empty = { address: '', firstName: '', lastName: '', consent: '', tags: '' }
const typed = reactive({ ...empty })
const { refused: problem, attempt } = useAttempts()
watch(open, () => {
  Object.assign(typed, empty)
  problem.value = null
})

async function add(): Promise<void> {
  const tags = typed.tags
    .split(',')
    .map((tag) => tag.trim())
    .filter(Boolean)
  await attempt(async () => {
    const { id } = await change('/people', { ...typed, tags }, personId)
    open.value = false
    await router.push(`/people/${id}`)
  })
}
</script>

<template>
  <QuickDialog v-model="open" title="Add a person" does="Add the person" :problem="problem" @done="add">
    <label class="field">
      Email address <input v-model="typed.address" class="plain" type="email" autocomplete="off" />
      <span v-if="problem?.fields?.address" class="fault">{{ problem.fields.address }}</span>
    </label>
    <div class="two">
      <label class="field">First name <input v-model="typed.firstName" class="plain" maxlength="80" /></label>
      <label class="field">Last name <input v-model="typed.lastName" class="plain" maxlength="80" /></label>
    </div>
    <label class="field">
      How they agreed to be written to
      <input
        v-model="typed.consent"
        class="plain"
        placeholder="Empty: nobody has asked them, no marketing email"
      />
    </label>
    <label class="field">Tags, with commas between <input v-model="typed.tags" class="plain" /></label>
  </QuickDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
</style>
