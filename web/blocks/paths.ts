/** The value at a path such as `quotes.0.words`. */
export function valueAt(of: unknown, path: string): unknown {
  return path
    .split('.')
    .reduce<unknown>((value, key) => (value as Record<string, unknown> | undefined)?.[key], of)
}

/** The same thing with another value at a path; everything beside it stays as it is. */
export function withValueAt<T>(of: T, path: string, value: unknown): T {
  const [key = '', ...rest] = path.split('.')
  const inner =
    rest.length === 0 ? value : withValueAt((of as Record<string, unknown>)[key], rest.join('.'), value)
  if (Array.isArray(of)) return of.map((each: unknown, i) => (String(i) === key ? inner : each)) as T
  return { ...of, [key]: inner }
}
