import { expect, type Page } from '@playwright/test'
import { choose, inspector, saved, sheet } from './editor.ts'
import { giveName } from './marketer.ts'

/** Makes a product in the Library, and stays in its editor. */
export async function makeProduct(page: Page, name: string): Promise<void> {
  await page.goto('/app/library/products')
  await page.getByRole('button', { name: 'New product' }).click()
  await giveName(page, name)
  await page.getByRole('button', { name: 'Make product' }).click()
  await expect(page.getByRole('heading', { level: 1, name })).toBeVisible()
}

/** Makes a page in the Library, for a purpose where one is given, and stays in its editor. */
export async function makePage(page: Page, name: string, purpose?: string): Promise<void> {
  await page.goto('/app/library/pages')
  await page.getByRole('button', { name: 'New page' }).click()
  await giveName(page, name)
  if (purpose !== undefined) {
    const dialog = page.getByRole('dialog', { name: 'New page' })
    await dialog.getByRole('combobox', { name: 'Purpose' }).press('ArrowDown')
    await page.getByRole('option', { name: purpose, exact: true }).click()
  }
  await page.getByRole('button', { name: 'Make page' }).click()
  await expect(page.getByRole('heading', { level: 1, name })).toBeVisible()
}

/** Publishes what the open editor shows, once it is kept and nothing keeps it from that. */
export async function publishNow(page: Page): Promise<void> {
  await saved(page)
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()
}

/** Adds something that a product, a price or a form does, from the menu of the inspector. */
export async function addAction(page: Page, title: string): Promise<void> {
  await inspector(page).getByRole('button', { name: 'Add', exact: true }).click()
  await page.getByRole('menuitem', { name: title, exact: true }).click()
}

/** Chooses a row of the outline of a page or an email. */
export const outlined = (page: Page, words: string): Promise<void> =>
  page.getByRole('navigation', { name: 'Outline' }).getByText(words).last().click()

/** Makes an order page that sells a product, and stays in its editor. */
export async function makeOrderPage(
  page: Page,
  {
    name,
    sells,
    heading,
    button = 'Pay now',
  }: { name: string; sells: string; heading: string; button?: string },
): Promise<void> {
  await makePage(page, name, 'order page')
  await writeHeading(page, heading)
  await outlined(page, 'order form')
  await choose(inspector(page), 'What it sells', sells)
  await page.keyboard.press('Escape')
  await inspector(page).getByRole('textbox', { name: 'Button', exact: true }).fill(button)
}

/** Writes the first heading of the open page. */
export async function writeHeading(page: Page, words: string): Promise<void> {
  await page.getByRole('navigation', { name: 'Outline' }).locator('[data-row]').nth(1).click()
  await inspector(page).getByRole('textbox', { name: 'Words', exact: true }).fill(words)
}

/** Makes a course with one lesson that is live. @param who may see it */
export async function makeCourse(
  page: Page,
  { name, who, path }: { name: string; who: string; path: string },
): Promise<void> {
  await page.goto('/app/library/courses')
  await page.getByRole('button', { name: 'New course' }).click()
  await giveName(page, name)
  const dialog = page.getByRole('dialog')
  await choose(dialog, 'Who may see its lessons', who)
  await dialog.getByRole('button', { name: /course$/ }).click()
  await expect(dialog).toHaveCount(0)
  await makePage(page, `${name}: lesson`)
  const panel = inspector(page)
  await panel.getByRole('textbox', { name: 'Address', exact: true }).fill(path)
  await choose(panel, 'Course', name)
  const save = panel.getByRole('button', { name: 'Save name and address' })
  await save.click()
  await expect(save).toHaveCount(0)
  await expect(panel.getByText('Lesson', { exact: true })).toBeVisible()
  await sheet(page).locator('h1').first().click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type(name)
  await page.keyboard.press('Escape')
  await publishNow(page)
}
