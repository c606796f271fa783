/** Waits until something is there, and gives it. @throws when it does not come within `patience` milliseconds */
export async function eventually<T>(
  look: () => Promise<T | null | undefined | false> | T | null | undefined | false,
  patience = 10_000,
): Promise<T> {
  const end = Date.now() + patience
  for (;;) {
    const found = await look()
    if (found) return found
    if (Date.now() > end) throw new Error(`nothing came within ${patience} ms: ${look.toString()}`)
    await new Promise((done) => setTimeout(done, 25))
  }
}
