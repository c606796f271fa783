import { account } from './filled.ts'

/** Somebody of the business at the API. */
export interface Marketer {
  /** The sign-in's cookie, for requests that the other ways do not make. */
  cookie: string
  get<T>(path: string): Promise<T>
  post(path: string, body?: unknown): Promise<Response>
  /** Posts, until it is called off. */
  ask(path: string, body: unknown, signal?: AbortSignal): Promise<Response>
  /** Asks for a file. */
  download(path: string): Promise<Response>
  /** Posts bytes as they are. */
  send(path: string, body: string | Buffer): Promise<Response>
  /** Posts bytes as they come. */
  stream(path: string, body: ReadableStream<Uint8Array>): Promise<Response>
}

/** Signs in and keeps the cookie and the token. */
export async function signedIn(url: string): Promise<Marketer> {
  const session = await fetch(`${url}/api/auth/sign-in`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(account),
  })
  if (session.status !== 204) throw new Error(`the sign-in answered ${session.status}`)
  const cookie = session.headers.get('set-cookie')?.split(';')[0] ?? ''
  const me = (await (await fetch(`${url}/api/auth/me`, { headers: { cookie } })).json()) as {
    csrfToken: string
  }
  const ask = (path: string, body: unknown, signal?: AbortSignal): Promise<Response> =>
    fetch(`${url}/api${path}`, {
      method: 'POST',
      headers: { cookie, 'content-type': 'application/json', 'x-nurtel-csrf': me.csrfToken },
      body: JSON.stringify(body),
      ...(signal && { signal }),
    })
  return {
    cookie,
    async get<T>(path: string) {
      const answer = await fetch(`${url}/api${path}`, { headers: { cookie } })
      if (!answer.ok) throw new Error(`${path} answered ${answer.status}: ${await answer.text()}`)
      return (await answer.json()) as T
    },
    post: (path, body = {}) => ask(path, body),
    ask,
    download: (path) => fetch(`${url}/api${path}`, { headers: { cookie } }),
    send: (path, body) =>
      fetch(`${url}/api${path}`, {
        method: 'POST',
        headers: { cookie, 'content-type': 'application/octet-stream', 'x-nurtel-csrf': me.csrfToken },
        body: typeof body === 'string' ? body : new Uint8Array(body),
      }),
    stream(path, body) {
      // Node's fetch asks for it; the type of the browser's does not know it.
      const request: RequestInit & { duplex: 'half' } = {
        method: 'POST',
        headers: { cookie, 'content-type': 'application/octet-stream', 'x-nurtel-csrf': me.csrfToken },
        body,
        duplex: 'half',
      }
      return fetch(`${url}/api${path}`, request)
    },
  }
}
