import type { CookieOptions, Request, RequestHandler, Response } from 'express'
import type { Platform } from '../platform.ts'
import { Problem } from '../http/problems.ts'
import { isSame } from '../signing.ts'
import { signedInBy, signInLasts, type SignedIn } from './signIn.ts'

export const signInCookie = 'nurtel_sign_in'
const csrfHeader = 'x-nurtel-csrf'

/** How the sign-in's cookie is set: for our own pages alone, and out of reach of scripts. */
export function cookieOptions({ settings }: Platform): CookieOptions {
  return {
    httpOnly: true,
    sameSite: 'lax',
    secure: settings.publicUrl.startsWith('https:'),
    path: '/',
  }
}

/** The value of a cookie of the request. */
export function cookieOf(request: Request, name: string): string | undefined {
  const pairs = (request.headers.cookie ?? '').split(';').map((pair) => pair.trim().split('='))
  return pairs.find(([key]) => key === name)?.[1]
}

/** Lets only those through who are signed in; a change must also carry the token of the sign-in (CSRF). */
export function requireSignIn(platform: Platform): RequestHandler {
  return async (request, response, next) => {
    const token = cookieOf(request, signInCookie)
    const who = token ? await signedInBy(platform, token) : null
    if (!who) throw new Problem(401, 'You are not signed in', 'Nothing was changed. Sign in and try again.')
    const changes = request.method !== 'GET' && request.method !== 'HEAD'
    if (changes && !isSame(request.get(csrfHeader) ?? '', who.csrfToken))
      throw new Problem(
        403,
        'This page is out of date',
        'Nothing was changed. Reload the page and try again.',
      )
    if (who.renewed) response.cookie(signInCookie, token, { ...cookieOptions(platform), maxAge: signInLasts })
    response.locals.signedIn = who
    next()
  }
}

/** Who makes this request; behind `requireSignIn` only. */
export const signedInOf = (response: Response): SignedIn => response.locals.signedIn as SignedIn
