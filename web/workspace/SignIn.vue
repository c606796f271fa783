<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { signInRequest } from '../../contract/workspace.ts'
import { useForm } from '../form.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useSession } from './session.ts'

const session = useSession()
const route = useRoute()
const router = useRouter()

const form = useForm(signInRequest, { address: '', password: '' })

/** A place inside the application to go on to, never another site. */
function destination(): string {
  const to = route.query.to
  return typeof to === 'string' && /^\/(?!\/)/.test(to) ? to : '/today'
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

async function submit(): Promise<void> {
  const signedIn = await form.submit(async (request) => {
    await session.signIn(request)
    await router.push(destination())
  })
  waiting.value = signedIn ? 0 : (form.problem?.retryAfter ?? 0)
  if (waiting.value > 0) countdown.resume()
}
</script>

<template>
  <div class="entrance">
    <div class="line" aria-hidden="true" />
    <v-form class="panel" novalidate @submit.prevent="submit">
      <h1>Nurtel</h1>
      <p class="soft">Sign in to your business.</p>
      <ProblemNote :problem="form.problem" />
      <v-text-field
        v-bind="form.field('address')"
        label="Email address"
        type="email"
        autocomplete="username"
        autofocus
      />
      <v-text-field
        v-bind="form.field('password')"
        label="Password"
        type="password"
        autocomplete="current-password"
      />
      <v-btn type="submit" color="secondary" block size="large" :loading="form.busy" :disabled="waiting > 0">
        {{ waiting > 0 ? `Retrying in ${waiting} s…` : 'Sign in' }}
      </v-btn>
    </v-form>
  </div>
</template>

<style scoped>
.entrance {
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
