import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { me as meShape, type Me, type SignInRequest } from '../../contract/workspace.ts'
import { ApiProblem, change, read, useCsrfToken } from '../api.ts'
import { closeLive, openLive } from '../live.ts'

/** Who is signed in, and the business they work for. */
export const useSession = defineStore('session', () => {
  const me = shallowRef<Me | null>(null)
  const zone = computed(() => me.value?.business.zone ?? 'UTC')

  /** Asks who is signed in. @returns false when nobody is */
  async function resume(): Promise<boolean> {
    try {
      const found = await read('/door/me', meShape)
      useCsrfToken(found.csrfToken)
      me.value = found
      openLive()
      return true
    } catch (error) {
      if (error instanceof ApiProblem && error.details.status === 401) return false
      throw error
    }
  }

  async function signIn(request: SignInRequest): Promise<void> {
    await change('/door/sign-in', request)
    await resume()
  }

  async function signOut(): Promise<void> {
    await change('/door/sign-out')
    closeLive()
    me.value = null
  }

  return { me, zone, resume, signIn, signOut }
})
