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
    <div class="panel pop">
      <h3>{{ session.me?.account.name }}</h3>
      <p class="soft">{{ session.me?.account.address }}</p>
      <div class="buttons">
        <v-btn size="small" variant="outlined" @click="changing = true">Change password</v-btn>
        <v-btn size="small" variant="outlined" @click="signOut">Sign out</v-btn>
      </div>
    </div>
  </v-menu>
  <ChangePassword v-model="changing" />
</template>

<style scoped>
.pop {
  padding: 16px;
  min-width: 260px;
}

.buttons {
  display: flex;
  gap: 8px;
}
</style>
