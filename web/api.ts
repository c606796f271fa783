import type { z } from 'zod'
import { problemDetails, type ProblemDetails } from '../contract/problems.ts'
import { addressOf, type PathParams, type Route, type Shapes } from '../contract/route.ts'

/** An answer that says what went wrong and what to do. */
export class ApiProblem extends Error {
  constructor(readonly details: ProblemDetails) {
    super(details.title)
  }
}

const unreachable: ProblemDetails = {
  status: 0,
  title: 'Nurtel is not responding',
  detail: 'What you see may be out of date. It keeps trying; check that the server is running.',
}

let csrfToken = ''

/** Every change carries this token from now on. */
export function useCsrfToken(token: string): void {
  csrfToken = token
}

let notifySignedOut = (): void => undefined

/** Calls back whenever an answer says that nobody is signed in any more. */
export function onSignedOut(callback: () => void): void {
  notifySignedOut = callback
}

/** Only the sign-in itself may be refused without anybody having been signed out. */
const isSigningIn = (path: string): boolean => path === '/auth/sign-in' || path === '/auth/me'

async function ask(method: string, path: string, body: unknown, signal?: AbortSignal): Promise<Response> {
  const answer = await fetch(`/api${path}`, {
    method,
    headers: {
      accept: 'application/json',
      ...(body !== undefined && { 'content-type': 'application/json' }),
      ...(method !== 'GET' && { 'x-nurtel-csrf': csrfToken }),
    },
    ...(body !== undefined && { body: JSON.stringify(body) }),
    ...(signal && { signal }),
  }).catch((error: unknown) => {
    if (signal?.aborted) throw error
    throw new ApiProblem(unreachable)
  })
  if (answer.ok) return answer
  if (answer.status === 401 && !isSigningIn(path)) notifySignedOut()
  const told = problemDetails.safeParse(await answer.json().catch(() => null))
  throw new ApiProblem(told.success ? told.data : { ...unreachable, status: answer.status })
}

type ParamsOf<Path extends string> = keyof PathParams<Path> extends never
  ? { params?: never }
  : { params: PathParams<Path> }
type BodyOf<S extends Shapes> = S['body'] extends z.ZodType ? { body: z.input<S['body']> } : { body?: never }
type QueryOf<S extends Shapes> = S['query'] extends z.ZodType
  ? { query?: z.input<S['query']> }
  : { query?: never }

/** What a call of a route is given. */
export type Given<Path extends string, S extends Shapes> = ParamsOf<Path> &
  BodyOf<S> &
  QueryOf<S> & { signal?: AbortSignal }

/** The answer of a route, read by the contract, or nothing. */
type Answer<S extends Shapes> = S['answer'] extends z.ZodType ? Promise<z.output<S['answer']>> : Promise<void>

/** Nothing has to be given where there are neither ids nor a body. */
type Optional<T> = Record<string, never> extends T ? [given?: T] : [given: T]

/** The same without its types, which say nothing before a route is known. */
interface Loose {
  params?: Record<string, number>
  body?: unknown
  query?: Record<string, unknown>
  signal?: AbortSignal
}

/** Calls a route of the API, and reads its answer by the contract. @throws ApiProblem */
export function call<Path extends string, S extends Shapes>(
  route: Route<Path, S>,
  ...[given]: Optional<Given<Path, S>>
): Answer<S> {
  const { params, body, query, signal } = (given ?? {}) as Loose
  const asked = ask(route.method, addressOf(route.path, params, query), body, signal)
  return asked.then(async (answer) => route.answer?.parse(await answer.json())) as Answer<S>
}

/** The address of a route that is opened as a link: a file, or a page in a frame. */
export function linkTo<Path extends string, S extends Shapes>(
  route: Route<Path, S>,
  ...[given]: Optional<Omit<Given<Path, S>, 'body' | 'signal'>>
): string {
  const { params, query } = (given ?? {}) as Loose
  return `/api${addressOf(route.path, params, query)}`
}

/** Sends a file as it is, and tells how much of it is there, from 0 to 1. @throws ApiProblem */
export function upload<Path extends string, S extends Shapes>(
  route: Route<Path, S>,
  query: QueryOf<S>['query'],
  file: Blob,
  progress: (share: number) => void,
): Answer<S> {
  const sent = new Promise<unknown>((resolve, reject) => {
    // fetch tells nothing of an upload's progress.
    const request = new XMLHttpRequest()
    request.open(route.method, `/api${addressOf(route.path, {}, query as Loose['query'])}`)
    request.setRequestHeader('content-type', 'application/octet-stream')
    request.setRequestHeader('x-nurtel-csrf', csrfToken)
    request.responseType = 'json'
    request.upload.onprogress = ({ loaded, total }) => progress(total > 0 ? loaded / total : 0)
    request.onerror = () => reject(new ApiProblem(unreachable))
    request.onload = () => {
      const answer: unknown = request.response
      if (request.status < 300) {
        resolve(route.answer?.parse(answer))
        return
      }
      if (request.status === 401) notifySignedOut()
      const told = problemDetails.safeParse(answer)
      reject(new ApiProblem(told.success ? told.data : { ...unreachable, status: request.status }))
    }
    request.send(file)
  })
  return sent as Answer<S>
}

/** What to tell a person about an error. */
export function problemOf(error: unknown): ProblemDetails {
  if (error instanceof ApiProblem) return error.details
  return {
    status: 0,
    title: 'This could not be shown',
    detail: 'Reload the page. If that does not help, ask for support.',
  }
}
