import { expect, type FrameLocator, type Locator, type Page } from '@playwright/test'

export const inspector = (page: Page): Locator => page.getByRole('complementary', { name: 'Inspector' })

/** What is written, as its visitors or readers see it. */
export const sheet = (page: Page): FrameLocator =>
  page.frameLocator(
    'iframe[title="The page as its visitors see it"], iframe[title="The email as its readers see it"]',
  )

export const saved = (page: Page): Promise<void> => expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible()

/** Notices of long work, of imports beside it for instance, move what is about to be pressed. */
export async function withoutNotices(page: Page): Promise<void> {
  await page.route('**/api/work', (route) => route.fulfill({ json: [] }))
}

/** Chooses from a list. Of a long one only a part is drawn: where one can type, one types what one looks for. */
export async function choose(within: Locator, label: string, title: string, nth = 0): Promise<void> {
  const input = within.getByRole('combobox', { name: label, exact: true }).nth(nth)
  if ((await input.getAttribute('inputmode')) === 'none') await input.press('ArrowDown')
  else await input.fill(title)
  await within.page().getByRole('option', { name: title, exact: true }).click()
}
