import type { Frame, Locator, Page } from '@playwright/test'

/** The parts of the browser's event timing that are read here. */
interface TimedEvent extends PerformanceEntry {
  interactionId: number
}

interface Recorder {
  slowest: Map<number, number>
}

/**
 * Records how long each interaction takes, from the key or click to the next painted frame, as the browser itself
 * measures it. Source: W3C Event Timing API, "duration" and "interactionId"; an interaction takes as long as the
 * slowest of its events (web vitals, Interaction to Next Paint; common practice).
 */
export const recordInteractions = (page: Page): Promise<unknown> => page.addInitScript(record)

/** The same for a frame that is there already. */
export const recordInteractionsOf = (frame: Frame): Promise<unknown> => frame.evaluate(record)

/** Runs in the browser. */
function record(): void {
  const slowest = new Map<number, number>()
  Object.assign(window, { recorder: { slowest } satisfies Recorder })
  new PerformanceObserver((list) => {
    for (const { interactionId, duration } of list.getEntries() as TimedEvent[])
      if (interactionId > 0) slowest.set(interactionId, Math.max(slowest.get(interactionId) ?? 0, duration))
  }).observe({ type: 'event', durationThreshold: 16, buffered: true } as PerformanceObserverInit)
}

/** Clicks as a mouse does, without the looks that a test takes at what lies where: they would be measured too. */
export async function clickAt(target: Locator): Promise<void> {
  await target.scrollIntoViewIfNeeded()
  const box = await target.boundingBox()
  if (!box) throw new Error(`nothing to click at: ${String(target)}`)
  await target.page().mouse.click(box.x + box.width / 2, box.y + box.height / 2)
}

/** Does something on a page and gives back what its interactions took, in ms; those below 16 ms count as 16. */
export async function interactionsOf(
  page: Page | Frame,
  count: number,
  act: (i: number) => Promise<void>,
): Promise<number[]> {
  const forget = (): Promise<void> =>
    page.evaluate(() => (window as unknown as { recorder: Recorder }).recorder.slowest.clear())
  const found: number[] = []
  for (let i = 0; i < count; i += 1) {
    await forget()
    await act(i)
    // Two frames later the browser has told what it measured.
    await page.evaluate(
      () =>
        new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done, 30)))),
    )
    const measured = await page.evaluate(() => [
      ...(window as unknown as { recorder: Recorder }).recorder.slowest.values(),
    ])
    found.push(...(measured.length > 0 ? measured : [16]))
  }
  return found
}
