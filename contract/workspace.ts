import { z } from 'zod'
import { get, post } from './route.ts'

export const signInRequest = z.object({
  address: z.string().trim().min(1, 'Type the email address you sign in with').max(254),
  password: z.string().min(1, 'Type your password').max(200),
})
export type SignInRequest = z.infer<typeof signInRequest>

/** Length is what makes a password hard to guess (NIST SP 800-63B §5.1.1.2 asks for 8 at least, from memory). */
const shortestPassword = 10

export const passwordChange = z.object({
  current: z.string().min(1, 'Type the password you have now').max(200),
  next: z
    .string()
    .min(shortestPassword, `Use ${shortestPassword} characters or more`)
    .max(200, 'At most 200 characters'),
})
export type PasswordChange = z.infer<typeof passwordChange>

export const businessView = z.object({
  name: z.string(),
  zone: z.string(),
  currency: z.string(),
  senderName: z.string(),
  senderAddress: z.string(),
})
export type BusinessView = z.infer<typeof businessView>

/** Who is signed in, where, and the token that every change must carry. */
export const me = z.object({
  account: z.object({ name: z.string(), address: z.string() }),
  business: businessView,
  csrfToken: z.string(),
})
export type Me = z.infer<typeof me>

/** The state of the parts that do the work. */
export const health = z.object({
  status: z.enum(['ok', 'impaired']),
  database: z.enum(['ok', 'down']),
  worker: z.enum(['ok', 'none']),
})
export type Health = z.infer<typeof health>

/** The bar along the bottom. Instants are ISO 8601 in UTC. */
export const clockStrip = z.object({
  now: z.iso.datetime(),
  zone: z.string(),
  nextDeparture: z.object({ at: z.iso.datetime(), people: z.number().int(), what: z.string() }).nullable(),
  sender: z.object({ state: z.enum(['clear', 'waiting', 'stopped']), waiting: z.number().int() }),
  workers: z.number().int(),
})
export type ClockStrip = z.infer<typeof clockStrip>

export const auth = {
  signIn: post('/auth/sign-in', { body: signInRequest }),
  signOut: post('/auth/sign-out', {}),
  changePassword: post('/auth/password', { body: passwordChange }),
  me: get('/auth/me', { answer: me }),
} as const
