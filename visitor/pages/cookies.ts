import type { IncomingMessage } from 'node:http'

/** The value of a cookie as the browser sent it. */
export const cookieOf = ({ headers: { cookie } }: IncomingMessage, name: string): string | undefined =>
  cookie
    ?.split('; ')
    .find((each) => each.startsWith(`${name}=`))
    ?.slice(name.length + 1)
