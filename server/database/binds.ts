/** Collects the parameters of a statement that is put together from parts, and the parts that stand before it. */
export interface Binds {
  values: unknown[]
  /** Adds a value; gives the name under which the statement speaks of it, such as "$3". */
  add(value: unknown): string
  /**
   * Adds a query whose rows several parts of the statement look at; it runs once. Equal queries are one.
   * @returns the name under which they find it
   */
  share(query: string): string
  /** What the statement begins with: `with …` when something is shared, else nothing. */
  readonly with: string
}

/** @param from the parameters and shared queries of a statement that this one repeats */
export function createBinds(from?: { values: readonly unknown[]; shared: readonly string[] }): Binds & {
  readonly shared: readonly string[]
} {
  const values = [...(from?.values ?? [])]
  const shared = [...(from?.shared ?? [])]
  return {
    values,
    shared,
    add(value) {
      values.push(value)
      return `$${values.length}`
    },
    share(query) {
      if (!shared.includes(query)) shared.push(query)
      return `shared_${shared.indexOf(query)}`
    },
    get with() {
      const queries = shared.map((query, i) => `shared_${i} as materialized (${query})`)
      return queries.length === 0 ? '' : `with ${queries.join(', ')} `
    },
  }
}
