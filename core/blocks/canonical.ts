/**
 * Content as text, the same for the same content: the database gives an object's keys back in an order of its own.
 * @param leftOut keys that do not count, wherever they stand
 */
export const canonical = (content: unknown, leftOut: readonly string[] = []): string =>
  // Without content, as for a part that is not there.
  JSON.stringify(content, (key, value: unknown) => {
    if (leftOut.includes(key)) return undefined
    if (typeof value !== 'object' || value === null || Array.isArray(value)) return value
    return Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
  })
