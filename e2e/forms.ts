import { expect, test, type Page } from '@playwright/test'
import { expectNoFindings } from './accessibility.ts'
import { choose } from './editor.ts'
import { giveName, openMail, signIn } from './marketer.ts'

const outline = (page: Page) => page.getByRole('navigation', { name: 'Outline' })
const inspector = (page: Page) => page.getByRole('complementary', { name: 'Inspector' })
const sheet = (page: Page) => page.frameLocator('iframe[title="The form as visitors see it"]')
const saved = (page: Page) => expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible()

/** Notices of long work move what is pressed. */
const withoutNotices = (page: Page) => page.route('**/api/work', (route) => route.fulfill({ json: [] }))

test('a form is made, put on a page, and its address confirmed by a click: only then does anything happen', async ({
  page,
  browser,
}) => {
  await withoutNotices(page)
  await signIn(page, '/app/library/forms')
  await page.getByRole('button', { name: 'New form' }).click()
  await giveName(page, 'Marbling notes')
  await page.getByRole('button', { name: 'Make form' }).click()
  await expect(sheet(page).getByLabel('Email address')).toBeVisible()

  // A field more, by keyboard: added, labelled, moved up.
  await outline(page).getByRole('button', { name: 'Email address' }).press('Insert')
  await page.getByRole('combobox', { name: 'What to ask for' }).fill('country')
  await page.keyboard.press('Enter')
  await inspector(page).getByLabel('Label', { exact: true }).fill('Where do you live?')
  await expect(sheet(page).getByText('Where do you live?')).toBeVisible()
  await outline(page).locator('[data-row]', { hasText: 'Where do you live?' }).press('Alt+ArrowUp')
  await expect(outline(page).locator('[data-row]').nth(2)).toContainText('Where do you live?')
  await page.keyboard.press('Delete')
  await expect(outline(page)).not.toContainText('Where do you live?')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(outline(page)).toContainText('Where do you live?')

  // What it does, as sentences.
  await page.getByRole('button', { name: 'Form settings' }).click()
  await choose(inspector(page), 'People confirm their address', 'Always')
  await inspector(page).getByRole('button', { name: 'Add', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Put on a tag' }).click()
  await choose(inspector(page), 'Tag', 'Template pack')
  await saved(page)
  const does = page.getByRole('region', { name: 'What it does' })
  await expect(does).toContainText('everybody confirms their address by a click in an email')
  await expect(does).toContainText('puts on the tag “Template pack”')
  await page.getByRole('button', { name: 'Until confirmed' }).click()
  await expect(sheet(page).getByText('One more step: look in your mailbox')).toBeVisible()
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()

  // On a page of its own.
  await page.goto('/app/library/pages')
  await page.getByRole('button', { name: 'New page' }).click()
  await giveName(page, 'Marbling notes')
  await page.getByRole('combobox', { name: 'Form' }).press('ArrowDown')
  await page.getByRole('option', { name: 'Marbling notes' }).click()
  await page.getByRole('button', { name: 'Make page' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Marbling notes' })).toBeVisible()
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()

  // A visitor without a script; a typing slip is asked about.
  const context = await browser.newContext({ javaScriptEnabled: false, locale: 'en-IE' })
  const visitor = await context.newPage()
  await visitor.goto('/p/marbling-notes')
  await visitor.getByLabel('First name').fill('Sunniva')
  await visitor.getByLabel('Email address').fill('sunniva-at-walk.test')
  await visitor.getByRole('button', { name: 'Send it to me' }).click()
  await expect(visitor.getByText('should look like name@example.com')).toBeVisible()
  await expect(visitor.getByText('Please tick the box')).toBeVisible()
  await expect(visitor.getByLabel('First name')).toHaveValue('Sunniva')
  await visitor.getByLabel('Email address').fill('sunniva@walk.test')
  await visitor.getByLabel(/Yes, you may write to me/).check()
  await visitor.getByRole('button', { name: 'Send it to me' }).click()
  await expect(visitor.getByText('One more step: look in your mailbox')).toBeVisible()

  await openMail(page, 'sunniva@walk.test', 'Please confirm your address')
  await page.getByRole('button', { name: 'Text' }).click()
  const link = /https?:\S+\/confirm\/\S+/.exec(await page.locator('pre').innerText())?.[0]
  // Whoever only looks, as scanners of mail do, changes nothing.
  await page.goto(link ?? '')
  await expectNoFindings(page)
  await visitor.goto(link ?? '')
  await expect(visitor.getByText('Yes, you may write to me. I can stop it at any time.')).toBeVisible()
  await visitor.getByRole('button', { name: 'Yes, that was me' }).click()
  await expect(visitor.getByRole('heading', { level: 1, name: 'Thank you' })).toBeVisible()
  await context.close()

  await page.goto('/app/people')
  await page.getByRole('link', { name: /Sunniva/ }).click()
  const journal = page.getByRole('list', { name: 'Journal, newest first' })
  await expect(journal).toContainText('confirmed the address')
  await expect(journal).toContainText('got the tag “Template pack”')

  // The link's own count says one.
  await page.goto('/app/library/forms')
  await page.getByRole('link', { name: 'Marbling notes' }).click()
  const numbers = page.getByRole('row', { name: /no source/ })
  await expect(numbers.getByRole('cell')).toHaveText([
    'no source',
    '1',
    '1',
    'too few to read',
    '1',
    '0',
    /min|s$/,
  ])
})
