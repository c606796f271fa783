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

/**
 * Has somebody be a rehearsal person from now on, whose clock can be moved.
 * @returns where they are found: a search leaves out who is made up
 */
export async function rehearse(page: Page, name: string): Promise<string> {
  await goToPerson(page, name)
  const url = page.url()
  await page.getByRole('button', { name: 'Mark as rehearsal' }).click()
  await expect(page.getByRole('link', { name: 'Open the stage' })).toBeVisible()
  return url
}

/** Moves the clock of a rehearsal person, whose screen is open, ahead by a day. */
export async function passADay(page: Page, name: string): Promise<void> {
  await page.getByRole('link', { name: 'Open the stage' }).click()
  const clock = page.getByRole('group', { name: 'Their clock' })
  const date = clock.getByRole('textbox', { name: 'Date' })
  await date.fill(new Date(Date.now() + 86_400_000).toISOString().slice(0, 10))
  await date.press('Enter')
  await page.getByRole('button', { name: 'Jump to this date' }).click()
  await expect(page.getByRole('contentinfo')).toContainText(`Rehearsal: ${name}’s clock shows`)
  await expect(page.getByRole('button', { name: 'Jump to this date' })).toBeEnabled()
}
