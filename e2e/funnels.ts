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
  const check = page.getByRole('button', { name: /to (fix|consider)$/ })
  await expect(check).toBeVisible()
  if (/to fix$/.test(await check.innerText())) {
    await check.click()
    await page.getByRole('button', { name: /^Mend all/ }).click()
    await expect(page.getByText('Keeps it from going live')).toHaveCount(0)
  }
  await page.getByRole('button', { name: 'Go live' }).click()
  await expect(page.getByRole('button', { name: 'Go live' })).toHaveCount(0)
}
