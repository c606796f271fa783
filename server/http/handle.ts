import type { Request, Response, Router } from 'express'
import { z } from 'zod'
import type { PathParams, Route, Shapes } from '../../contract/route.ts'
import { signedInOf } from '../workspace/requireSignIn.ts'
import { notFound } from './problems.ts'

const id = z.coerce.number().int().positive().max(Number.MAX_SAFE_INTEGER)

/** The ids in the path. @throws Problem 404 when one is none */
function idsOf(request: Request): Record<string, number> {
  const read = z.record(z.string(), id).safeParse(request.params)
  if (!read.success) throw notFound('This')
  return read.data
}

type Parsed<S extends Shapes, Key extends 'query' | 'body'> = S[Key] extends z.ZodType
  ? z.output<S[Key]>
  : undefined

/** A request that its route has read. */
export interface Call<Path extends string, S extends Shapes> {
  params: PathParams<Path>
  query: Parsed<S, 'query'>
  body: Parsed<S, 'body'>
  /** Who asks; read it behind the sign-in only. */
  readonly by: string
  request: Request
  response: Response
}

/** What the work of a route comes to: its answer, or nothing. */
type Answer<S extends Shapes> = S['answer'] extends z.ZodType ? Promise<z.input<S['answer']>> : Promise<void>

function callOf<Path extends string, S extends Shapes>(
  route: Route<Path, S>,
  request: Request,
  response: Response,
): Call<Path, S> {
  const ids = idsOf(request)
  return {
    params: ids as PathParams<Path>,
    query: route.query?.parse(request.query) as Parsed<S, 'query'>,
    body: route.body?.parse(request.body) as Parsed<S, 'body'>,
    get by() {
      return signedInOf(response).account.name
    },
    request,
    response,
  }
}

const register = (
  router: Router,
  route: Route,
  work: (request: Request, response: Response) => Promise<void>,
): void => {
  const methods = { GET: router.get.bind(router), POST: router.post.bind(router) }
  methods[route.method](route.path, work)
}

/**
 * Serves a route of the API: what it takes is read by the shapes of the contract, what it gives is what they say.
 * @param made the status of an answer that tells what was made
 */
export function handle<Path extends string, S extends Shapes>(
  router: Router,
  route: Route<Path, S>,
  work: (call: Call<Path, S>) => Answer<S>,
  { status = 200 }: { status?: 200 | 201 } = {},
): void {
  register(router, route, async (request, response) => {
    const answer = await work(callOf(route, request, response))
    if (route.answer === undefined) response.status(204).end()
    else response.status(status).json(answer)
  })
}

/** Serves a route that answers by itself: with a file, or a stream. */
export function handleStream<Path extends string, S extends Shapes>(
  router: Router,
  route: Route<Path, S>,
  work: (call: Call<Path, S>) => unknown,
): void {
  register(router, route, async (request, response) => {
    await work(callOf(route, request, response))
  })
}
