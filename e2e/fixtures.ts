import { test as base, type BrowserContext } from '@playwright/test'

/**
 * Tests that go on in one browser, each in a tab of its own: the application is read and compiled once, as for
 * somebody who works with it, not once a test.
 */
export const test = base.extend<object, { marketersBrowser: BrowserContext }>({
  marketersBrowser: [
    async ({ browser }, use, { project }) => {
      const { viewport, baseURL, reducedMotion } = project.use
      const context = await browser.newContext({
        ...(viewport !== undefined && { viewport }),
        ...(baseURL !== undefined && { baseURL }),
        ...(reducedMotion !== undefined && { reducedMotion }),
      })
      await use(context)
      await context.close()
    },
    { scope: 'worker' },
  ],
  page: async ({ marketersBrowser }, use) => {
    const page = await marketersBrowser.newPage()
    await use(page)
    await page.close()
  },
})
