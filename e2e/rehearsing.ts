import { expect, type Page } from '@playwright/test'

export const journal = (page: Page) => page.getByRole('list', { name: 'Journal, newest first' })

/** Opens a person by search from the keyboard. */
export async function goToPerson(page: Page, name: string): Promise<void> {
  await page.keyboard.press('Control+k')
  await page.getByLabel('Go to a screen, a person or a follow-up').fill(name)
  await expect(page.getByRole('option').first()).toContainText(name)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toContainText(name)
}
