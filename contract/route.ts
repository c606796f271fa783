import { z } from 'zod'

/** What a route takes and gives; without an answer it gives nothing (204). */
export interface Shapes {
  query?: z.ZodType
  body?: z.ZodType
  answer?: z.ZodType
}

/**
 * A route of the API as both sides know it: the server serves it and the application calls it by this, so that path,
 * body and answer stand in one place.
 */
export type Route<Path extends string = string, S extends Shapes = Shapes> = S & {
  method: 'GET' | 'POST'
  path: Path
}

/** The ids in a path: `/people/:id` has `id`. */
export type PathParams<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Record<Name, number> & PathParams<`/${Rest}`>
  : Path extends `${string}:${infer Name}`
    ? Record<Name, number>
    : unknown

/** Reads something. */
export const get = <const Path extends string, S extends Omit<Shapes, 'body'>>(
  path: Path,
  shapes: S,
): Route<Path, S> => ({ method: 'GET', path, ...shapes })

/** Changes something, or asks what is too long for an address. */
export const post = <const Path extends string, S extends Shapes>(path: Path, shapes: S): Route<Path, S> => ({
  method: 'POST',
  path,
  ...shapes,
})

/** The id of something that was just made. */
export const created = z.object({ id: z.number().int() })

/** The address of a route below the API, with its ids and query filled in. Empty values are left out. */
export function addressOf(
  path: string,
  params: Readonly<Record<string, number>> = {},
  query: Readonly<Record<string, unknown>> = {},
): string {
  const filled = path.replace(/:(\w+)/g, (_, name: string) => String(params[name]))
  const said = Object.entries(query).filter(
    ([, value]) => value !== undefined && value !== null && value !== '',
  )
  if (said.length === 0) return filled
  const text = said.map(([name, value]): [string, string] => [name, String(value)])
  return `${filled}?${new URLSearchParams(text).toString()}`
}
