import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { fakeServer, show, type FakeServer, type Shown } from '../../testing/screen.ts'
import ChangePassword from './ChangePassword.vue'
import SignIn from './SignIn.vue'

let server: FakeServer
let shown: Shown
beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval'] })
  server = fakeServer()
})
afterEach(() => {
  shown.wrapper.unmount()
  vi.useRealTimers()
})

const me = {
  account: { name: 'Mara', address: 'mara@quillfeather.example' },
  business: { name: 'Q', zone: 'UTC', currency: 'EUR', senderName: 'M', senderAddress: 'm@q.example' },
  csrfToken: 't',
}

describe('signing in', () => {
  it('waits for its turn by itself after too many tries, and goes on to where one was', async () => {
    shown = await show(SignIn, {}, { path: '/sign-in?to=/people/7' })
    await shown.fill('Email address', 'mara@quillfeather.example')
    await shown.fill('Password', 'five-hole-stitch')
    server.refuses('POST /auth/sign-in', { status: 429, title: 'Too many attempts', retryAfter: 3 })
    await shown.press('Sign in')
    expect(shown.control('Retrying in 3 s…').disabled).toBe(true)
    vi.advanceTimersByTime(2_000)
    await flushPromises()
    expect(server.sent('POST /auth/sign-in')).toHaveLength(1)
    server.answers('POST /auth/sign-in', undefined)
    server.answers('GET /auth/me', me)
    vi.advanceTimersByTime(1_000)
    await flushPromises()
    expect(server.sent('POST /auth/sign-in')).toHaveLength(2)
    expect(shown.router.currentRoute.value.fullPath).toBe('/people/7')
  })
})

describe('changing the password', () => {
  it('says under its field what is wrong, and keeps what was typed', async () => {
    shown = await show(ChangePassword, { modelValue: true })
    await shown.fill('Current password', 'guess')
    await shown.fill('New password', 'short')
    await shown.press('Change password')
    expect(shown.text()).toContain('Use 10 characters or more')
    expect(server.sent('POST /auth/password')).toEqual([])
    await shown.fill('New password', 'kettle-stitch-twice')
    server.refuses('POST /auth/password', { fields: { current: 'This is not your password' } })
    await shown.press('Change password')
    expect(shown.text()).toContain('This is not your password')
    expect(shown.control('New password').value).toBe('kettle-stitch-twice')
    server.answers('POST /auth/password', undefined)
    await shown.press('Change password')
    expect(server.sent('POST /auth/password').at(-1)).toEqual({
      current: 'guess',
      next: 'kettle-stitch-twice',
    })
  })
})
