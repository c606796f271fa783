import { expect, type Page } from '@playwright/test'

/** Makes a funnel of a starter, from the list of funnels. */
export async function beginFunnel(
  page: Page,
  { goal, starter, name }: { goal: string; starter: RegExp; name: string },
): Promise<void> {
  await page.goto('/app/funnels')
  await page.getByRole('button', { name: 'New funnel' }).click()
  await page.getByRole('radio', { name: goal }).check()
  await page.getByRole('radio', { name: starter }).check()
  await page.getByLabel('Name', { exact: true }).fill(name)
  await page.getByRole('button', { name: 'Make funnel' }).click()
  await expect(page.getByRole('heading', { level: 1, name })).toBeVisible()
}

/** Mends what one press puts right, if anything keeps it, and goes live. */
export async function goLiveMended(page: Page): Promise<void> {
  await page.getByRole('button', { name: /to (fix|consider)$/ }).click()
  const mend = page.getByRole('button', { name: /^Mend all/ })
  await expect(async () => {
    if (await mend.isVisible()) await mend.click()
    await expect(page.getByText('Keeps it from going live')).toHaveCount(0, { timeout: 1_000 })
  }).toPass()
  await page.getByRole('button', { name: 'Go live' }).click()
  await expect(page.getByRole('button', { name: 'Go live' })).toHaveCount(0)
}
