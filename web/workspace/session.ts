import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import * as api from '../../contract/api.ts'
import type { Me, SignInRequest } from '../../contract/workspace.ts'
import { ApiProblem, call, useCsrfToken } from '../api.ts'
import { closeLive, openLive } from '../live.ts'

/** Who is signed in, and the business they work for. */
export const useSession = defineStore('session', () => {
  const me = shallowRef<Me | null>(null)
  const zone = computed(() => me.value?.business.zone ?? 'UTC')

  /** Asks who is signed in. @returns false when nobody is */
  async function resume(): Promise<boolean> {
    try {
      const found = await call(api.auth.me)
      useCsrfToken(found.csrfToken)
      me.value = found
      openLive(stillSignedIn)
      return true
    } catch (error) {
      if (error instanceof ApiProblem && error.details.status === 401) return false
      throw error
    }
  }

  /** Looks whether the sign-in has not ended meanwhile, and leaves when it has. */
  async function stillSignedIn(): Promise<boolean> {
    const signedIn = await resume()
    if (!signedIn) end()
    return signedIn
  }

  /** Nobody is signed in any more, whoever ended it. */
  function end(): void {
    closeLive()
    me.value = null
  }

  async function signIn(request: SignInRequest): Promise<void> {
    await call(api.auth.signIn, { body: request })
    await resume()
  }

  async function signOut(): Promise<void> {
    await call(api.auth.signOut)
    end()
  }

  return { me, zone, resume, signIn, signOut, end }
})
