/** Resolves when the browser has nothing better to do, or after a second. */
const idle = (): Promise<void> =>
  new Promise((done) => {
    requestIdleCallback(() => done(), { timeout: 1_000 })
  })

let last = Promise.resolve()

/**
 * Waits until the miniatures before have been drawn and nobody waits for the browser: ten whole pages drawn at once
 * would keep a click waiting for most of a second.
 * @returns what ends the turn
 */
export async function takeTurn(): Promise<() => void> {
  const before = last
  let end = (): void => undefined
  last = new Promise((ended) => {
    end = ended
  })
  await before
  await idle()
  return end
}
