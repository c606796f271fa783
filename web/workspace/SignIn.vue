<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { onMounted, useTemplateRef, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { signInRequest } from '../../contract/workspace.ts'
import { useAttempts } from '../attempt.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useSession } from './session.ts'

const session = useSession()
const route = useRoute()
const router = useRouter()

const address = ref('')
const password = ref('')
const faults = ref<Record<string, string>>({})
const { refused, busy, attempt } = useAttempts()

// At once: a focus that comes later would take the keys from who already types.
const addressField = useTemplateRef<{ focus(): void }>('addressField')
onMounted(() => addressField.value?.focus())

/** A place inside the application to go on to, never another site. */
function destination(): string {
  const to = route.query.to
  return typeof to === 'string' && /^\/(?!\/)/.test(to) ? to : '/today'
}

async function submit(): Promise<void> {
  const typed = signInRequest.safeParse({ address: address.value, password: password.value })
  faults.value = typed.success
    ? {}
    : Object.fromEntries(typed.error.issues.map((issue) => [String(issue.path[0]), issue.message]))
  if (!typed.success) return
  const signedIn = await attempt(async () => {
    await session.signIn(typed.data)
    await router.push(destination())
  })
  if (!signedIn && refused.value?.retryAfter) waitFor(refused.value.retryAfter)
}

/** Seconds until the next try has its turn: the screen waits for it, so that nobody has to. */
const waiting = ref(0)
const countdown = useIntervalFn(
  () => {
    waiting.value -= 1
    if (waiting.value > 0) return
    countdown.pause()
    void submit()
  },
  1_000,
  { immediate: false },
)
function waitFor(seconds: number): void {
  waiting.value = seconds
  countdown.resume()
}
</script>

<template>
  <div class="door">
    <div class="line" aria-hidden="true" />
    <form class="panel" @submit.prevent="submit">
      <h1>Nurtel</h1>
      <p class="soft">Sign in to your business.</p>
      <ProblemNote :problem="refused" />
      <v-text-field
        ref="addressField"
        v-model="address"
        label="Email address"
        type="email"
        autocomplete="username"
        :error-messages="faults.address"
      />
      <v-text-field
        v-model="password"
        label="Password"
        type="password"
        autocomplete="current-password"
        :error-messages="faults.password"
      />
      <v-btn type="submit" color="secondary" block size="large" :loading="busy" :disabled="waiting > 0">
        {{ waiting > 0 ? `Signing in, in ${waiting} s` : 'Sign in' }}
      </v-btn>
    </form>
  </div>
</template>

<style scoped>
.door {
  min-height: 100vh;
  display: grid;
  place-items: center;
  position: relative;
}

.line {
  position: absolute;
  inset: calc(50% - 1px) 0 auto 0;
  height: 2px;
  background: var(--petrol);
}

form {
  position: relative;
  width: min(380px, calc(100vw - 32px));
  padding: 32px;
  display: grid;
  gap: 16px;
}

p {
  margin: -8px 0 0;
}
</style>
