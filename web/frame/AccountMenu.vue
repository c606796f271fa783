<script setup lang="ts">
import { mdiAccountCircleOutline } from '@mdi/js'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import ChangePassword from '../workspace/ChangePassword.vue'
import { useSession } from '../workspace/session.ts'

const session = useSession()
const router = useRouter()
const changing = ref(false)

async function signOut(): Promise<void> {
  await session.signOut()
  await router.push('/sign-in')
}
</script>

<template>
  <v-menu>
    <template #activator="{ props: menu }">
      <v-btn
        v-bind="menu"
        :icon="mdiAccountCircleOutline"
        size="small"
        variant="text"
        :aria-label="`Account of ${session.me?.account.name}`"
      />
    </template>
    <v-card :title="session.me?.account.name" :subtitle="session.me?.account.address" min-width="240">
      <v-list role="menu">
        <v-list-item role="menuitem" title="Change password" @click="changing = true" />
        <v-list-item role="menuitem" title="Sign out" @click="signOut" />
      </v-list>
    </v-card>
  </v-menu>
  <ChangePassword v-if="changing" v-model="changing" />
</template>
