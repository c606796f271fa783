import { Router, type Request } from 'express'
import * as api from '../../contract/api.ts'
import { handle } from '../http/handle.ts'
import { limitRate, sourceOf } from '../http/rateLimits.ts'
import type { Platform } from '../platform.ts'
import { getBusiness, viewBusiness } from './business.ts'
import { cookieOf, cookieOptions, requireSignIn, signedInOf, signInCookie } from './requireSignIn.ts'
import { changePassword, signIn, signInLasts, signOut, type Origin } from './signIn.ts'

const deviceCookie = 'nurtel_device'
const deviceKnownFor = 365 * 24 * 3_600_000

const originOf = (request: Request): Origin => ({
  source: sourceOf(request),
  device: cookieOf(request, deviceCookie),
})

/** Signing in and out: the part of the API that is open to strangers. */
export function authRoutes(platform: Platform): Router {
  const routes = Router()
  const { auth } = api
  const cookie = cookieOptions(platform)

  routes.use(auth.signIn.path, limitRate(platform.settings.publicRate))
  handle(routes, auth.signIn, async ({ body, request, response }) => {
    const { token, device } = await signIn(platform, body, originOf(request))
    response
      .cookie(signInCookie, token, { ...cookie, maxAge: signInLasts })
      .cookie(deviceCookie, device, { ...cookie, maxAge: deviceKnownFor })
  })

  for (const { path } of [auth.signOut, auth.changePassword, auth.me])
    routes.use(path, requireSignIn(platform))
  handle(routes, auth.signOut, async ({ response }) => {
    await signOut(platform, signedInOf(response))
    response.clearCookie(signInCookie, cookie)
  })
  handle(routes, auth.changePassword, ({ body, request, response }) =>
    changePassword(platform, signedInOf(response), body, originOf(request)),
  )
  handle(routes, auth.me, async ({ response }) => {
    const { account, csrfToken } = signedInOf(response)
    return {
      account: { name: account.name, address: account.address },
      business: viewBusiness(await getBusiness(platform.database)),
      csrfToken,
    }
  })
  return routes
}
