import { Router } from 'express'
import { signInRequest, type Me } from '../../contract/workspace.ts'
import type { Platform } from '../platform.ts'
import { limitRate } from '../rateLimits.ts'
import { theBusiness, viewBusiness } from './business.ts'
import { cookieOf, gate, signedInOf, signInCookie } from './gate.ts'
import { signIn, signInLasts, signOut } from './signIn.ts'

/** Signing in and out: the part of the API that is open to strangers. */
export function doorRoutes(platform: Platform): Router {
  const routes = Router()
  const cookie = {
    httpOnly: true,
    sameSite: 'lax',
    secure: platform.settings.publicUrl.startsWith('https:'),
    path: '/',
  } as const

  const slowDown = limitRate(60)

  routes.post('/sign-in', slowDown, async (request, response) => {
    const token = await signIn(platform, signInRequest.parse(request.body), request.ip ?? '')
    response
      .cookie(signInCookie, token, { ...cookie, maxAge: signInLasts })
      .status(204)
      .end()
  })

  routes.post('/sign-out', gate(platform), async (request, response) => {
    await signOut(platform, cookieOf(request, signInCookie) ?? '')
    response.clearCookie(signInCookie, cookie).status(204).end()
  })

  routes.get('/me', gate(platform), async (_request, response) => {
    const { account, csrfToken } = signedInOf(response)
    const view: Me = {
      account: { name: account.name, address: account.address },
      business: viewBusiness(await theBusiness(platform.database)),
      csrfToken,
    }
    response.json(view)
  })

  return routes
}
