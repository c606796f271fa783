import { expect, type Locator, type Page } from '@playwright/test'
import { choose, inspector } from './editor.ts'
import { giveName, signIn } from './marketer.ts'

export const scoreSheet = (page: Page): Locator => page.getByRole('region', { name: 'Score sheet' })
export const proof = (page: Page): Locator => page.getByRole('region', { name: 'Proof' })

/** Makes a quiz from one of the starting points. */
export async function newQuiz(page: Page, name: string, from: string): Promise<void> {
  await signIn(page, '/app/library/quizzes')
  await page.getByRole('button', { name: 'New quiz' }).click()
  await giveName(page, name)
  await page.getByRole('radio', { name: new RegExp(`^${from}`) }).check()
  await page.getByRole('button', { name: 'Make quiz' }).click()
  await expect(scoreSheet(page)).toBeVisible()
}

/** Chooses a question or a result on the score sheet. */
export const pick = (page: Page, name: string): Promise<void> =>
  scoreSheet(page).getByRole('button', { name, exact: true }).click()

export async function settings(page: Page): Promise<void> {
  await inspector(page).getByRole('button', { name: 'Quiz settings' }).click()
}

/** Asks for the address by a form, with words on why it is worth it. */
export async function askAddress(page: Page, form: string, why: string): Promise<void> {
  await choose(inspector(page), 'Form', form)
  await inspector(page).getByLabel('Why it is worth it').fill(why)
}

/** Publishes what is written, once the checks have passed. */
export async function publish(page: Page): Promise<void> {
  await expect(page.getByRole('button', { name: 'Checks passed' })).toBeVisible()
  await page.getByRole('button', { name: 'Publish' }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()
}
