import { Router, type Request } from 'express'
import { passwordChange, signInRequest, type Me } from '../../contract/workspace.ts'
import type { Platform } from '../platform.ts'
import { limitRate, sourceOf } from '../rateLimits.ts'
import { theBusiness, viewBusiness } from './business.ts'
import { cookieOf, cookieOptions, gate, signedInOf, signInCookie } from './gate.ts'
import { changePassword, signIn, signInLasts, signOut, type Origin } from './signIn.ts'

const deviceCookie = 'nurtel_device'
const deviceKnownFor = 365 * 24 * 3_600_000

const originOf = (request: Request): Origin => ({
  source: sourceOf(request),
  device: cookieOf(request, deviceCookie),
})

/** Signing in and out: the part of the API that is open to strangers. */
export function doorRoutes(platform: Platform): Router {
  const routes = Router()
  const cookie = cookieOptions(platform)

  routes.post('/sign-in', limitRate(platform.settings.publicRate), async (request, response) => {
    const { token, device } = await signIn(platform, signInRequest.parse(request.body), originOf(request))
    response
      .cookie(signInCookie, token, { ...cookie, maxAge: signInLasts })
      .cookie(deviceCookie, device, { ...cookie, maxAge: deviceKnownFor })
      .status(204)
      .end()
  })

  routes.post('/sign-out', gate(platform), async (_request, response) => {
    await signOut(platform, signedInOf(response))
    response.clearCookie(signInCookie, cookie).status(204).end()
  })

  routes.post('/password', gate(platform), async (request, response) => {
    const change = passwordChange.parse(request.body)
    await changePassword(platform, signedInOf(response), change, originOf(request))
    response.status(204).end()
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
