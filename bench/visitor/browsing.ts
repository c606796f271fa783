import type { Browser, Page } from '@playwright/test'
import { composer } from '../../core/blocks/compose.ts'
import type { PageContent } from '../../core/pages/page.ts'
import { clickAt, interactionsOf, recordInteractionsOf } from '../screens/interactions.ts'

/** What a visitor on a slow phone sees of a page. */
export interface Paint {
  /** First contentful paint (ms, W3C Paint Timing). */
  fcp: number
  /** The sum of layout shifts (W3C Layout Instability). */
  shift: number
}

/** Opens a page with the processor slowed down four times, and nothing in the browser's memory. */
export async function paintOf(browser: Browser, url: string): Promise<Paint> {
  const context = await browser.newContext({ viewport: { width: 390, height: 844 } })
  const page = await context.newPage()
  const devtools = await context.newCDPSession(page)
  await devtools.send('Emulation.setCPUThrottlingRate', { rate: 4 })
  await page.addInitScript(() => {
    Object.assign(window, { shift: 0 })
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries() as (PerformanceEntry & { value: number })[])
        (window as unknown as { shift: number }).shift += entry.value
    }).observe({ type: 'layout-shift', buffered: true })
  })
  await page.goto(url, { waitUntil: 'load' })
  await page.waitForTimeout(800)
  const paint = await page.evaluate(() => ({
    fcp: performance.getEntriesByName('first-contentful-paint')[0]?.startTime ?? Number.NaN,
    shift: (window as unknown as { shift: number }).shift,
  }))
  await context.close()
  return paint
}

/** A content of sixty blocks: headings, texts, lists and buttons. */
export function sixtyBlocks(): PageContent {
  let made = 0
  const { block, text, section, document } = composer(() => `bench${String((made += 1)).padStart(5, '0')}`)
  const sections = Array.from({ length: 15 }, (_, i) =>
    section([
      {
        blocks: [
          block('heading', { words: `Part ${i + 1} of the page`, level: i === 0 ? 1 : 2 }),
          text('A paragraph of a few sentences. It is read by nobody, but it has to be drawn all the same.'),
        ],
      },
      {
        blocks: [
          block('list', { items: ['One thing', 'Another thing', 'A third thing'] }),
          block('button', { label: 'Go on', target: { to: 'path', path: '/p/privacy' } }),
        ],
      },
    ]),
  )
  return {
    title: 'Sixty blocks',
    description: '',
    language: 'en',
    listed: false,
    sharing: { title: '', words: '', picture: null },
    icon: null,
    limitedTo: null,
    opens: { when: 'atOnce' },
    deadline: null,
    document: document(...sections),
  }
}

/** Opens the editor of a page and types into it. @returns ms until one can write, and ms of each keystroke */
export async function writeIn(page: Page, id: number): Promise<{ open: number; keys: number[] }> {
  await page.goto('/app/library/pages')
  const link = page.getByRole('link', { name: 'Sixty blocks' })
  await link.waitFor()
  // The code of the editor is there after the first time, as for everybody who has edited once.
  await page.goto(`/app/library/pages/${id}`)
  // The list before it has frames too: the miniatures of its pages.
  const shown = page.locator('iframe[title^="The page as"]')
  const sheet = shown.contentFrame()
  await sheet.locator('h1').waitFor()
  await page.goto('/app/library/pages')
  await link.waitFor()
  // Nobody clicks before they have looked; the clock is the browser's own, the test driver's hand is not timed.
  await page.waitForTimeout(500)
  const open = await link.evaluate(async (element: HTMLElement) => {
    const begun = performance.now()
    element.click()
    for (let drawn = 0; drawn < 15;) {
      await new Promise(requestAnimationFrame)
      const sheet = document.querySelector<HTMLIFrameElement>('iframe[title^="The page as"]')
      drawn = sheet?.contentDocument?.querySelectorAll('section').length ?? 0
    }
    // What is drawn is painted then.
    await new Promise((painted) => requestAnimationFrame(() => setTimeout(painted)))
    return performance.now() - begun
  })
  const frame = await (await shown.elementHandle()).contentFrame()
  if (!frame) throw new Error('the editor has no sheet')
  await recordInteractionsOf(frame)
  await clickAt(sheet.locator('h1'))
  const keys = await interactionsOf(frame, 40, () => page.keyboard.press('a'))
  return { open, keys }
}
