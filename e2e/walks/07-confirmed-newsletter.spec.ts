import { expect, test, type Page } from '@playwright/test'
import { giveName, openMail, signIn } from '../marketer.ts'
import { journal } from '../rehearsing.ts'

const inspector = (page: Page) => page.getByRole('complementary', { name: 'Inspector' })
const saved = (page: Page) => expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible()

/** Chooses from a list of the inspector. */
async function choose(page: Page, label: string, option: string): Promise<void> {
  await inspector(page).getByRole('combobox', { name: label, exact: true }).press('ArrowDown')
  await page.getByRole('option', { name: option, exact: true }).click()
}
/** From a list that is searched by typing: only as much of it is drawn as one sees. */
async function find(page: Page, label: string, option: string): Promise<void> {
  await inspector(page).getByRole('combobox', { name: label, exact: true }).fill(option)
  await page.getByRole('option', { name: option, exact: true }).click()
}
async function publish(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()
}

test.beforeEach(({ page }) => page.route('**/api/work', (route) => route.fulfill({ json: [] })))

test('a confirmed newsletter: a tag until the click, another one after it, and no letter before', async ({
  page,
  browser,
}) => {
  await signIn(page, '/app/library/forms')
  await page.getByRole('button', { name: 'New form' }).click()
  await giveName(page, 'Thread post')
  await page.getByRole('button', { name: 'Make form' }).click()
  await choose(page, 'People confirm their address', 'Always')
  await find(page, 'Tag until then', 'Waiting for confirmation')
  await find(page, 'Tag once confirmed', 'Bindery letter')
  await saved(page)
  await publish(page)

  await page.goto('/app/library/pages')
  await page.getByRole('button', { name: 'New page' }).click()
  await giveName(page, 'Thread post')
  await page.getByRole('combobox', { name: 'Form' }).press('ArrowDown')
  await page.getByRole('option', { name: 'Thread post' }).click()
  await page.getByRole('button', { name: 'Make page' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Thread post' })).toBeVisible()
  await publish(page)

  const visitor = await (await browser.newContext({ javaScriptEnabled: false })).newPage()
  await visitor.goto('/p/thread-post')
  await visitor.getByLabel('First name').fill('Tamsin')
  await visitor.getByLabel('Email address').fill('tamsin@walk.test')
  await visitor.getByLabel(/Yes, you may write to me/).check()
  await visitor.getByRole('button', { name: 'Send it to me' }).click()
  await expect(visitor.getByText('One more step: look in your mailbox')).toBeVisible()

  // Until the click: the tag that says so, and a letter to everybody leaves them out.
  await page.goto('/app/people')
  await page.getByRole('textbox', { name: /Search/ }).fill('tamsin@walk.test')
  await page
    .getByRole('row', { name: /tamsin@walk.test/ })
    .getByRole('link')
    .click()
  await expect(journal(page)).toContainText('got the tag “Waiting for confirmation”')
  await expect(journal(page)).not.toContainText('Bindery letter')
  const person = page.url()

  // The button of the email leads to the page that asks, and the click there makes it true.
  await openMail(page, 'tamsin@walk.test', 'Please confirm your address')
  const button = page.frameLocator('iframe').getByRole('link', { name: /confirm|yes/i })
  await visitor.goto((await button.first().getAttribute('href')) ?? '')
  await visitor.getByRole('button', { name: 'Yes, that was me' }).click()
  await expect(visitor.getByRole('heading', { level: 1, name: 'Thank you' })).toBeVisible()
  await visitor.context().close()

  await page.goto(person)
  await expect(journal(page)).toContainText('confirmed the address')
  await expect(journal(page)).toContainText('lost the tag “Waiting for confirmation”')
  await expect(journal(page)).toContainText('got the tag “Bindery letter”')
  // Nothing but the question went out before the yes.
  await expect(journal(page).getByText(/was sent/)).toHaveCount(0)

  // The link's own count says one.
  await page.goto('/app/library/forms')
  await page.getByRole('link', { name: 'Thread post' }).click()
  await expect(
    page
      .getByRole('row', { name: /no source/ })
      .getByRole('cell')
      .nth(4),
  ).toHaveText('1')
})
