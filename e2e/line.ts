import { expect, test, type Browser, type Page } from '@playwright/test'
import { openMail, signIn } from './marketer.ts'
import { goToPerson, journal } from './rehearsing.ts'

/** Signs up on the public page, in a browser of their own that runs no script. */
async function signUp(browser: Browser, firstName: string, address: string): Promise<Page> {
  const context = await browser.newContext({ javaScriptEnabled: false })
  const page = await context.newPage()
  await page.goto('/p/template-pack?utm_source=makers-letter')
  await page.getByLabel('First name').fill(firstName)
  await page.getByLabel('Email address').fill(address)
  await page.getByLabel(/Yes, send me the templates/).check()
  await page.getByRole('button', { name: 'Send me the templates' }).click()
  await expect(page).toHaveURL(/\/p\/template-pack\/thanks$/)
  return page
}

test('a stranger signs up, gets the file, clicks it, and two days later is invited', async ({
  page,
  browser,
}) => {
  await signIn(page)
  const visitor = await signUp(browser, 'Saoirsedemo', 'saoirse@walk.test')

  // What comes next, where to look, and the next offer.
  await expect(visitor.getByText(/spam and promotions/)).toBeVisible()
  await expect(visitor.getByRole('link', { name: /contacts/ })).toHaveAttribute('href', /contact-card\.vcf/)
  await expect(visitor.getByRole('link', { name: 'Show me the lesson on paper grain' })).toBeVisible()

  // Today shows the arrival by itself, without a reload.
  await expect(page.getByRole('region', { name: 'Arrivals' })).toContainText('Saoirsedemo')

  await openMail(page, 'saoirse@walk.test', 'Your Five-Hole Pamphlet templates')
  await expect(page.frameLocator('iframe').getByText('Hello Saoirsedemo,')).toBeVisible()
  await page.getByRole('button', { name: 'Source' }).click()
  await expect(page.locator('pre')).toContainText('List-Unsubscribe-Post: List-Unsubscribe=One-Click')
  await page.getByRole('button', { name: 'Text' }).click()
  const link = /https?:\S+\/go\/\S+/.exec(await page.locator('pre').innerText())?.[0]

  // The click records itself and leads to the signed file.
  const answer = await visitor.request.get(link ?? '')
  expect(answer.headers()['content-type']).toContain('application/pdf')
  expect((await answer.body()).subarray(0, 5).toString()).toBe('%PDF-')

  await goToPerson(page, 'Saoirsedemo')
  await expect(journal(page)).toContainText('clicked “Download the template pack” in “Your template pack”')
  await expect(journal(page)).toContainText(
    'submitted the form “Template pack” on “Template pack” utm_source makers-letter',
  )
  await expect(page.getByRole('region', { name: 'Profile' })).toContainText('Yes, send me the templates')

  await page.getByRole('button', { name: 'Mark as rehearsal' }).click()
  // The click has made them warm, and what that starts has its moment first.
  await page.getByRole('button', { name: 'Jump to next' }).click()
  await expect(journal(page)).toContainText('Warm at the bench: decided to send')
  await page.getByRole('button', { name: 'Jump to next' }).click()
  await expect(journal(page)).toContainText(/Template pack: took the lane Has the file/)
  await expect(page.getByRole('contentinfo')).toContainText('Rehearsal: Saoirsedemo’s clock shows')
  await openMail(page, 'saoirse@walk.test', 'Saoirsedemo, bring your pamphlet on Sunday')
})

test('who does not click is reminded with another subject, and the journal says why', async ({
  page,
  browser,
}) => {
  await signIn(page)
  await signUp(browser, 'Tadhgdemo', 'tadhg@walk.test')
  await goToPerson(page, 'Tadhgdemo')
  await expect(page.getByRole('region', { name: 'Follow-ups' })).toContainText('“Did you find it?” next')
  await page.getByRole('button', { name: 'Mark as rehearsal' }).click()
  await page.getByRole('button', { name: 'Jump to next' }).click()
  await expect(journal(page)).toContainText('Not yet: clicked in “Your template pack”: no (looked from')
  await openMail(page, 'tadhg@walk.test', 'Still on the bench: your pamphlet templates')

  // Rehearsal is counted nowhere.
  await page.getByRole('link', { name: 'People', exact: true }).click()
  await page.getByRole('textbox', { name: 'Search by name or address' }).fill('tadhg@walk.test')
  await expect(page.getByText('No results.')).toBeVisible()
})

test('one click on unsubscribe in the email is enough', async ({ page, browser }) => {
  await signIn(page)
  const visitor = await signUp(browser, 'Unadelle', 'una@walk.test')
  await openMail(page, 'una@walk.test', 'Your Five-Hole Pamphlet templates')
  const href = await page
    .frameLocator('iframe')
    .getByRole('link', { name: 'Unsubscribe' })
    .getAttribute('href')
  await visitor.goto(href ?? '')
  await visitor.getByRole('button', { name: 'Unsubscribe' }).click()
  await expect(visitor.getByRole('heading', { name: 'You are unsubscribed' })).toBeVisible()
  await goToPerson(page, 'Unadelle')
  await expect(page.getByRole('region', { name: 'Profile' })).toContainText('unsubscribed')
})

test('what a visitor forgets is said beside the field, and nothing typed is lost', async ({ browser }) => {
  const page = await (await browser.newContext({ javaScriptEnabled: false })).newPage()
  await page.goto('/p/template-pack')
  await page.getByLabel('First name').fill('Orla')
  await page.getByLabel('Email address').fill('orla at home')
  await page.getByRole('button', { name: 'Send me the templates' }).click()
  await expect(page.getByText('it should look like name@example.com')).toBeVisible()
  await expect(page.getByText('Please tick the box, so that we may write to you')).toBeVisible()
  await expect(page.getByLabel('First name')).toHaveValue('Orla')
  await expect(page.getByLabel('Email address')).toHaveAttribute('aria-invalid', 'true')
})
