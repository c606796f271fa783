import { expect, test, type Locator, type Page } from '@playwright/test'
import { expectNoFindings } from '../accessibility.ts'
import { fillFirst, giveName, signIn } from '../marketer.ts'
import { journal } from '../rehearsing.ts'

const inspector = (page: Page) => page.getByRole('complementary', { name: 'Inspector' })
const mailbox = (page: Page) => page.getByRole('list', { name: 'Their mail, newest first' })

async function choose(page: Page, within: Locator, label: string, option: string): Promise<void> {
  await within.getByRole('combobox', { name: label, exact: true }).fill(option)
  await page.getByRole('option', { name: option, exact: true }).click()
}
async function pick(page: Page, within: Locator, label: string, option: string): Promise<void> {
  await within.getByRole('combobox', { name: label, exact: true }).press('ArrowDown')
  await page.getByRole('option', { name: option, exact: true }).click()
}

test.beforeEach(({ page }) => page.route('**/api/work', (route) => route.fulfill({ json: [] })))

test('points for opening, clicking and visiting start a follow-up; silence takes them away again', async ({
  page,
  browser,
}) => {
  // Points for three things that people do, and two bands.
  await signIn(page, '/app/people/scorecards')
  await page.getByRole('link', { name: 'New scorecard' }).click()
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Bench warmth')
  const rules = page.getByRole('table', { name: 'Rules' })
  for (const [i, activity] of ['opened', 'visited the page'].entries()) {
    await page.getByRole('button', { name: 'Add activity rule' }).click()
    const row = rules.getByRole('row').nth(i + 2)
    await pick(page, row, 'Activity', activity)
  }
  for (const [i, points] of ['6', '3', '4'].entries()) {
    const row = rules.getByRole('row').nth(i + 1)
    await row.getByRole('textbox', { name: 'Points' }).fill(points)
    await row.getByRole('textbox', { name: 'Half-life, days' }).fill('20')
    await row.getByRole('textbox', { name: 'Daily cap' }).fill('')
  }
  await page.getByRole('button', { name: 'Create scorecard' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Create scorecard' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Bench warmth' })).toBeVisible()

  // Whoever gets warm by it is written to.
  await page.getByRole('link', { name: 'Follow-ups', exact: true }).click()
  await page.getByRole('button', { name: 'New follow-up' }).click()
  await giveName(page, 'To the warm ones')
  await page.getByLabel('Nothing').check()
  await page.getByRole('button', { name: 'Make follow-up' }).click()
  await page.getByRole('button', { name: 'Add a start' }).click()
  await choose(page, inspector(page), 'What happens', 'reaches a band by points')
  await pick(page, inspector(page), 'Scorecard', 'Bench warmth')
  await pick(page, inspector(page), 'Band', 'Warm')
  await page
    .getByRole('button', { name: /^Add (the first step|a step)/ })
    .first()
    .click()
  await page.getByRole('combobox', { name: 'What to add' }).fill('email')
  await page.keyboard.press('Enter')
  await choose(page, inspector(page), 'Email', 'A question from Mara')
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible()
  await page.getByRole('button', { name: 'Go live' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Go live' }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()

  // Somebody made up comes into another follow-up, and opens and clicks what they get.
  await page.getByRole('link', { name: 'Follow-ups', exact: true }).click()
  await page.getByRole('textbox', { name: 'Search by name' }).fill('Welcome in three')
  await page.getByRole('link', { name: 'Welcome in three letters' }).click()
  await page
    .getByRole('navigation', { name: 'Parts of this follow-up' })
    .getByRole('tab', { name: 'Rehearsal' })
    .click()
  await page.getByRole('button', { name: 'Live', exact: true }).click()
  await page.getByRole('button', { name: 'New rehearsal person' }).click()
  await fillFirst(page.getByLabel('First name'), 'Wanda')
  await page.getByLabel('Email address').fill('wanda@rehearsal.example')
  await page.getByRole('button', { name: 'Add and let in' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Wanda' })).toBeVisible()
  await expect(mailbox(page)).toContainText('Welcome to the bench')
  await expectNoFindings(page)
  const mail = page.frameLocator('iframe')
  await expect(journal(page)).toContainText('opened “Welcome to the bench”')
  const link = await mail.getByRole('link', { name: 'How paper wants to fold' }).getAttribute('href')
  const reader = await (await browser.newContext()).newPage()
  await reader.goto(link ?? '')
  await expect(reader.getByRole('heading', { level: 1 })).toBeVisible()
  await reader.context().close()

  // Three and six points and four for the page that the click led to: warm, at once.
  await expect(journal(page)).toContainText('visited the page “Paper grain”')
  await expect(journal(page)).toContainText('reached the band “Warm” of “Bench warmth”')
  await expect(mailbox(page)).toContainText('What would you like to sew first?')
  await expect(page.getByRole('contentinfo')).toContainText('Rehearsal: Wanda’s clock shows')

  // A hundred days of silence, moment by moment.
  const day = page.getByRole('group', { name: 'Their clock' }).getByRole('textbox', { name: 'Date' })
  const later = new Date(Date.now() + 100 * 86_400_000).toISOString().slice(0, 10)
  await day.fill(later)
  await day.press('Enter')
  await page.getByRole('button', { name: 'Jump to this date' }).click()
  await expect(page.getByRole('button', { name: 'Stop here' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Jump to this date' })).toBeEnabled({ timeout: 120_000 })
  await expect(journal(page)).toContainText(
    'dropped out of the band “Warm” of “Bench warmth” to Cool, by time',
  )
  await page.getByRole('link', { name: 'Wanda' }).first().click()
  await expect(page.getByText('Cool').first()).toBeVisible()

  // The score is held against what people bought.
  await page.goto('/app/people/scorecards')
  await page.getByRole('link', { name: 'Bench warmth' }).click()
  const check = page.getByRole('region', { name: 'Does the score predict anything?' })
  await expect(check).toContainText('buy')
  await check.getByRole('button', { name: 'Check' }).click()
  await expect(check.getByRole('row', { name: /Warm/ })).toContainText('%')
  await expect(check).toContainText(/Area under the curve: 0\.\d{3}/)
})
