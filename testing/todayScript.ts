import { gzipSync } from 'node:zlib'
import type { Page } from '@playwright/test'

/** How much JavaScript a first visit of Today loads on this page, in kB (1,000 bytes) as gzip packs each file. */
export async function todayScript(page: Page): Promise<number> {
  let bytes = 0
  const reading: Promise<void>[] = []
  page.on('response', (response) => {
    if (/\.js$/.test(new URL(response.url()).pathname))
      reading.push(response.body().then((body) => void (bytes += gzipSync(body).length)))
  })
  await page.goto('/app/today')
  await page.getByRole('region', { name: 'Departures, by time' }).waitFor()
  // What is fetched as soon as the screen is there counts, too.
  await page.waitForTimeout(1_000)
  await Promise.all(reading)
  return bytes / 1_000
}
