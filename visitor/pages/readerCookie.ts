import type { IncomingMessage } from 'node:http'
import type { Request, Response } from 'express'

/** The value of a cookie as the browser sent it. */
export const cookieOf = ({ headers: { cookie } }: IncomingMessage, name: string): string | undefined =>
  cookie
    ?.split('; ')
    .find((each) => each.startsWith(`${name}=`))
    ?.slice(name.length + 1)

/** Who reads, by the mark of the address or the one that they let us keep. */
export function markOf(request: Request): { mark: string | undefined; inAddress: boolean } {
  const { me } = request.query
  if (typeof me === 'string') return { mark: me, inAddress: true }
  return { mark: cookieOf(request, 'reader'), inAddress: false }
}

/** Marks are kept in a cookie by who allowed that, and only then. */
export function keepMark(request: Request, response: Response, mark: string): void {
  if (cookieOf(request, 'consent') !== 'yes') return
  response.cookie('reader', mark, {
    httpOnly: true,
    sameSite: 'lax',
    secure: request.secure,
    maxAge: 180 * 86_400_000,
  })
}
