/** Names of the things that conditions and steps refer to by id, for sentences that people read. */
export interface Names {
  emails: Record<number, string>
  tags: Record<number, string>
  pages: Record<number, string>
  files: Record<number, string>
}

/** The name in quotes, or what to say of a thing that is gone. */
export function nameOf(names: Names, kind: keyof Names, id: number): string {
  const name = names[kind][id]
  return name === undefined ? `something deleted (${id})` : `“${name}”`
}
