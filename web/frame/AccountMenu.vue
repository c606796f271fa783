<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { openLater } from './openLater.ts'
import { useSession } from '../workspace/session.ts'

defineOptions({ inheritAttrs: false })
const { open: changing, Opened: ChangePassword } = openLater(() => import('../workspace/ChangePassword.vue'))

const session = useSession()
const router = useRouter()
const open = ref(true)

async function signOut(): Promise<void> {
  await session.signOut()
  await router.push('/sign-in')
}
</script>

<template>
  <v-menu v-model="open" v-bind="$attrs">
    <v-card :title="session.me?.account.name" :subtitle="session.me?.account.address" min-width="240">
      <v-list role="menu">
        <v-list-item role="menuitem" title="Change password" @click="changing = true" />
        <v-list-item role="menuitem" title="Sign out" @click="signOut" />
      </v-list>
    </v-card>
  </v-menu>
  <ChangePassword v-if="changing" v-model="changing" />
</template>
