import { expect, test, type Page } from '@playwright/test'
import { giveName, signIn } from '../marketer.ts'

const sheet = (page: Page) => page.frameLocator('iframe[title="The page as its visitors see it"]')
const inspector = (page: Page) => page.getByRole('complementary', { name: 'Inspector' })
const saved = (page: Page) => expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible()

test.beforeEach(({ page }) => page.route('**/api/work', (route) => route.fulfill({ json: [] })))

/** Takes the selected part out. */
async function takeOut(page: Page): Promise<void> {
  await inspector(page).getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: 'Delete' }).click()
}

test('the smallest page: a small logo, one promise, first name and address, “send and go on”', async ({
  page,
  browser,
}) => {
  await signIn(page, '/app/library/pages')
  await page.getByRole('button', { name: 'New page' }).click()
  await giveName(page, 'One thread')
  await page.getByRole('button', { name: 'Make page' }).click()
  await sheet(page).locator('h1').click()
  await page.keyboard.type('One thread, one evening, one book')

  // Everything superfluous is taken out; a logo is put in, and made smaller.
  await sheet(page).locator('.b.list').click()
  await takeOut(page)
  await sheet(page).locator('.b.text').click()
  await takeOut(page)
  await page
    .getByRole('navigation', { name: 'Outline' })
    .getByRole('button', { name: /^Add to/ })
    .first()
    .click()
  await page.getByRole('combobox', { name: 'What to add' }).fill('logo')
  await page.getByRole('option', { name: 'logo' }).click()
  await inspector(page).getByRole('combobox', { name: 'Size' }).press('ArrowDown')
  await page.getByRole('option', { name: 'Small' }).click()
  await expect(sheet(page).locator('.b.logo .small')).toBeVisible()

  // Another starting point is tried, and undone.
  await page.getByRole('button', { name: 'Page settings' }).click()
  await page.getByRole('button', { name: 'Choose another starting point' }).click()
  await page.getByRole('radio', { name: /A look inside/ }).click()
  await page.getByRole('button', { name: 'Begin again' }).click()
  await expect(sheet(page).locator('.b.quotes')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(sheet(page).locator('h1')).toHaveText('One thread, one evening, one book')
  await saved(page)

  // The form: a line about privacy, and a button that says what happens.
  await sheet(page).locator('.b.form').click()
  await inspector(page).getByRole('link', { name: 'Edit this form' }).click()
  await inspector(page).getByLabel('Button', { exact: true }).fill('Send and go on')
  await inspector(page)
    .getByLabel('Line under the button', { exact: true })
    .fill('Your address stays with us.')
  await inspector(page).getByRole('combobox', { name: 'After sending' }).press('ArrowDown')
  await page.getByRole('option', { name: 'Another page, a file or an address' }).click()
  await inspector(page).getByRole('combobox', { name: 'Leads to' }).press('ArrowDown')
  await page.getByRole('option', { name: 'A page', exact: true }).click()
  await inspector(page).getByRole('combobox', { name: 'Page' }).fill('Template pack: thank')
  await page.getByRole('option', { name: 'Template pack: thank you' }).click()
  await saved(page)
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('Changed button', { exact: true })).toHaveCount(0)

  // A colour by its hex code.
  await page.goto('/app/library/brand')
  const accent = page.getByLabel('Buttons and links', { exact: true })
  const before = await accent.inputValue()
  await accent.fill('#0B5345')
  await page.getByRole('button', { name: 'Save brand' }).click()
  await expect(page.getByText('saved', { exact: true })).toBeVisible()

  await page.goto('/app/library/pages')
  await page.getByRole('link', { name: 'One thread' }).click()
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()

  const context = await browser.newContext({ javaScriptEnabled: false })
  const visitor = await context.newPage()
  await visitor.goto('/p/one-thread')
  await expect(visitor.getByText('Your address stays with us.')).toBeVisible()
  const button = visitor.getByRole('button', { name: 'Send and go on' })
  await expect(button).toHaveCSS('background-color', 'rgb(11, 83, 69)')
  await expect(visitor.getByRole('textbox')).toHaveCount(2)
  await visitor.getByLabel('First name').fill('Tuva')
  await visitor.getByLabel('Email address').fill('tuva@walk.test')
  await visitor.getByLabel(/Yes, you may write to me/).check()
  await button.click()
  await expect(visitor).toHaveURL(/\/p\/template-pack\/thanks$/)
  await context.close()

  await page.goto('/app/library/brand')
  await page.getByLabel('Buttons and links', { exact: true }).fill(before)
  await page.getByRole('button', { name: 'Save brand' }).click()
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
})
