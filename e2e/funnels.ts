import { expect, type Page } from '@playwright/test'
import { ownFile } from './newcomer.ts'

/** Makes a funnel of a starter, from the list of funnels. */
export async function beginFunnel(
  page: Page,
  { goal, starter, name, opens }: { goal: string; starter: RegExp; name: string; opens?: string },
): Promise<void> {
  await page.goto('/app/funnels')
  await page.getByRole('button', { name: 'New funnel' }).click()
  await page.getByRole('radio', { name: goal }).check()
  await page.getByRole('radio', { name: starter }).check()
  await page.getByLabel('Name', { exact: true }).fill(name)
  if (opens !== undefined) {
    const day = page.getByRole('textbox', { name: 'Opening day' })
    await day.fill(opens)
    // Enter would make the funnel.
    await day.press('Tab')
  }
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

/** Puts a file into the Library, under this name. */
export async function uploadFile(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Files', exact: true }).click()
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles({ ...ownFile, name })
  await expect(page.getByText(name).first()).toBeVisible()
}

/** Chooses a file of the Library as the one that the funnel gives, from the list of what is left. */
export async function giveFile(page: Page, name: string): Promise<void> {
  const left = page.getByRole('region', { name: 'What is left to do' })
  await left.getByRole('button', { name: 'Choose the file' }).click()
  await left.getByRole('combobox', { name: 'Or one of the Library' }).fill(name)
  await page.getByRole('option', { name }).first().click()
  await expect(left.getByRole('button', { name: 'Choose the file' })).toHaveCount(0)
}
