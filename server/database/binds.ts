/** Collects the parameters of a statement that is put together from parts. */
export interface Binds {
  values: unknown[]
  /** Adds a value; gives the name under which the statement speaks of it, such as "$3". */
  add(value: unknown): string
}

export function createBinds(values: unknown[] = []): Binds {
  return {
    values,
    add(value) {
      values.push(value)
      return `$${values.length}`
    },
  }
}
