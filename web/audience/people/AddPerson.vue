<script setup lang="ts">
import { useRouter } from 'vue-router'
import * as api from '../../../contract/api.ts'
import { personNew } from '../../../contract/audience/people.ts'
import { call } from '../../api.ts'
import { useForm } from '../../form.ts'
import QuickDialog from '../../frame/QuickDialog.vue'
import TagsInput from '../describing/TagsInput.vue'

const open = defineModel<boolean>({ required: true })
const router = useRouter()
const form = useForm(personNew, { address: '', firstName: '', lastName: '', consent: '', tags: [] })

async function add(): Promise<void> {
  await form.submit(async (body) => {
    const { id } = await call(api.people.create, { body })
    open.value = false
    await router.push(`/people/${id}`)
  })
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Add person"
    submit-label="Add person"
    :problem="form.problem"
    :busy="form.busy"
    @submit="add"
  >
    <v-text-field
      v-bind="form.field('address')"
      label="Email address"
      type="email"
      autocomplete="off"
      autofocus
    />
    <div class="two">
      <v-text-field v-bind="form.field('firstName')" label="First name" />
      <v-text-field v-bind="form.field('lastName')" label="Last name" />
    </div>
    <v-text-field
      v-bind="form.field('consent')"
      label="How they agreed to marketing email"
      hint="Leave empty if nobody has asked them: they get no marketing email."
      persistent-hint
    />
    <TagsInput v-bind="form.field('tags')" />
  </QuickDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
</style>
