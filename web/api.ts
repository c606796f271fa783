import type { z } from 'zod'
import { problemDetails, type ProblemDetails } from '../contract/problems.ts'

/** An answer that says what went wrong and what to do. */
export class ApiProblem extends Error {
  constructor(readonly details: ProblemDetails) {
    super(details.title)
  }
}

const unreachable: ProblemDetails = {
  status: 0,
  title: 'Nurtel does not answer',
  detail: 'What is shown may be old. It tries again by itself; look whether the server runs.',
}

let csrfToken = ''

/** Every change carries this token from now on. */
export function useCsrfToken(token: string): void {
  csrfToken = token
}

let tellSignedOut = (): void => undefined

/** Calls back whenever an answer says that nobody is signed in any more. */
export function onSignedOut(callback: () => void): void {
  tellSignedOut = callback
}

/** Only the sign-in itself may be refused without anybody having been signed out. */
const isAtTheDoor = (path: string): boolean => path === '/door/sign-in' || path === '/door/me'

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
  if (answer.status === 401 && !isAtTheDoor(path)) tellSignedOut()
  const told = problemDetails.safeParse(await answer.json().catch(() => null))
  throw new ApiProblem(told.success ? told.data : { ...unreachable, status: answer.status })
}

/** Reads something. @throws ApiProblem */
export async function read<T>(path: string, shape: z.ZodType<T>, signal?: AbortSignal): Promise<T> {
  return shape.parse(await (await ask('GET', path, undefined, signal)).json())
}

/** Asks something that is too long for an address. @throws ApiProblem */
export async function find<T>(
  path: string,
  body: unknown,
  shape: z.ZodType<T>,
  signal?: AbortSignal,
): Promise<T> {
  return shape.parse(await (await ask('POST', path, body, signal)).json())
}

/** Sends a file as it is, and tells how much of it is there. @throws ApiProblem */
export function send<T>(
  path: string,
  file: Blob,
  shape: z.ZodType<T>,
  progress: (share: number) => void,
): Promise<T> {
  return new Promise((resolve, reject) => {
    // fetch tells nothing of an upload's progress.
    const request = new XMLHttpRequest()
    request.open('POST', `/api${path}`)
    request.setRequestHeader('content-type', 'application/octet-stream')
    request.setRequestHeader('x-nurtel-csrf', csrfToken)
    request.responseType = 'json'
    request.upload.onprogress = ({ loaded, total }) => progress(total > 0 ? loaded / total : 0)
    request.onerror = () => reject(new ApiProblem(unreachable))
    request.onload = () => {
      const answer: unknown = request.response
      if (request.status < 300) {
        resolve(shape.parse(answer))
        return
      }
      if (request.status === 401) tellSignedOut()
      const told = problemDetails.safeParse(answer)
      reject(new ApiProblem(told.success ? told.data : { ...unreachable, status: request.status }))
    }
    request.send(file)
  })
}

/** Changes something, and reads the answer when it has a shape. @throws ApiProblem */
export async function change(path: string, body?: unknown): Promise<void>
export async function change<T>(path: string, body: unknown, shape: z.ZodType<T>): Promise<T>
export async function change<T>(path: string, body?: unknown, shape?: z.ZodType<T>): Promise<T | void> {
  const answer = await ask('POST', path, body)
  if (shape) return shape.parse(await answer.json())
}

/** What to tell a person about an error. */
export function problemOf(error: unknown): ProblemDetails {
  if (error instanceof ApiProblem) return error.details
  return {
    status: 0,
    title: 'This screen could not be shown',
    detail: 'Reload it. If it stays, ask for help.',
  }
}

/** `?a=1&b=2` of the values that say something. */
export function queryOf(values: Record<string, string | number | undefined>): string {
  const said = Object.entries(values).filter(([, value]) => value !== undefined && value !== '')
  return said.length > 0 ? `?${new URLSearchParams(said.map(([k, v]) => [k, String(v)])).toString()}` : ''
}
