import { expect, test, type Page } from '@playwright/test'
import { expectNoFindings } from './accessibility.ts'
import { choose } from './editor.ts'
import { giveName, openMail, signIn } from './marketer.ts'
import { signInOf } from '../demo/accounts.ts'

const outline = (page: Page) => page.getByRole('navigation', { name: 'Outline' })
const inspector = (page: Page) => page.getByRole('complementary', { name: 'Inspector' })
const sheet = (page: Page) => page.frameLocator('iframe[title="The email as its readers see it"]')
const saved = (page: Page) => expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible()

test('an email is made from a starting point, written in place, tried out on the team, and published', async ({
  page,
}) => {
  // Notices of long work move what is pressed.
  await page.route('**/api/work', (route) => route.fulfill({ json: [] }))
  await signIn(page, '/app/library/emails')
  await page.getByRole('button', { name: 'New email' }).click()
  await giveName(page, 'A question about thread')
  await page.getByRole('radio', { name: /One question/ }).check()
  await page.getByRole('button', { name: 'Make email' }).click()

  // What is missing is said, and guidance stands where one writes.
  await expect(page.getByRole('button', { name: '1 to fix' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Publish', exact: true })).toBeDisabled()
  await inspector(page).getByLabel('Subject', { exact: true }).fill("{first name or 'Hello'}, which thread?")
  await inspector(page).getByLabel('Preheader', { exact: true }).fill('One question, and you just reply.')

  // Written on the sheet itself, which is drawn by the server; undone, and done again.
  await expect(
    sheet(page)
      .getByText(/^Hello/)
      .first(),
  ).toBeVisible()
  await outline(page).locator('[data-row]').nth(2).click()
  await page.keyboard.press('Enter')
  await expect(sheet(page).locator('[contenteditable].ProseMirror')).toBeFocused()
  await page.keyboard.type('Linen or cotton?')
  await expect(outline(page)).toContainText('Linen or cotton?')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(outline(page)).not.toContainText('Linen or cotton?')
  await page.getByRole('button', { name: 'Redo' }).click()
  await expect(sheet(page).getByText('Linen or cotton?')).toBeVisible()

  // A button more, by keyboard, that leads somewhere.
  await outline(page).locator('[data-row]').nth(2).click()
  await page.keyboard.press('Insert')
  await page.getByRole('combobox', { name: 'What to add' }).fill('button')
  await page.keyboard.press('Enter')
  await inspector(page).getByLabel('Label', { exact: true }).fill('See both on the bench')
  await expect(sheet(page).getByText('See both on the bench')).toBeVisible()
  await inspector(page).getByRole('combobox', { name: 'Leads to' }).press('ArrowDown')
  await page.getByRole('option', { name: 'A web address' }).click()
  await inspector(page).getByLabel('Address', { exact: true }).fill('https://bench.example/threads')
  await saved(page)
  await expectNoFindings(page)

  // As somebody in rehearsal reads it.
  await page.getByRole('button', { name: 'Preview' }).click()
  const preview = page.getByRole('dialog', { name: 'Preview' })
  await preview.getByRole('combobox', { name: 'As it reads for' }).fill('Ada')
  await page.getByRole('option', { name: /Ada Finch/ }).click()
  await expect(preview.getByText('Ada, which thread?')).toBeVisible()
  await expect(preview.frameLocator('iframe').getByText('Hello Ada,')).toBeVisible()
  await preview.getByRole('button', { name: 'Text', exact: true }).click()
  await expect(preview.getByLabel('Text part')).toContainText('https://bench.example/threads')
  await preview.getByRole('button', { name: 'Close' }).click()

  // What a click does is said with the link; it is not published while that is open.
  await page.getByRole('button', { name: 'Email settings' }).click()
  await inspector(page).getByRole('button', { name: 'Add', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Put on a tag' }).click()
  await expect(page.getByRole('button', { name: '1 to fix' })).toBeVisible()
  await choose(inspector(page), 'Tag', 'Template pack')
  await expect(page.getByRole('button', { name: '1 to fix' })).toBeHidden()

  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()

  // A test really goes out.
  await page.getByRole('button', { name: 'Send a test' }).click()
  await page.getByRole('button', { name: 'Send test' }).click()
  await expect(page.getByText('On its way')).toBeVisible()
  await page.getByRole('button', { name: 'Close' }).click()
  await openMail(page, signInOf.address, 'Hello, which thread?')
  await expect(
    page.frameLocator('iframe').getByRole('link', { name: 'See both on the bench' }),
  ).toHaveAttribute('href', 'https://bench.example/threads')
})

test('an email of a follow-up is opened from its step, and one comes back there', async ({ page }) => {
  await signIn(page, '/app/follow-ups/1')
  await page.getByRole('button', { name: 'Send the email “Did you find it?”.' }).click()
  await page.getByRole('link', { name: 'Edit this email' }).click()
  await expect(sheet(page).getByText('Here they are again')).toBeVisible()
  await page.getByRole('link', { name: 'Back to where you came from' }).click()
  await expect(page).toHaveURL(/follow-ups\/1$/)
})

test('what is planned is moved in the calendar by drag and by keys', async ({ page }) => {
  await signIn(page, '/app/outbox/broadcasts')
  await page.getByRole('link', { name: /a year on the shelf/ }).click()
  await expect(page.getByText('planned', { exact: true })).toBeVisible()
  await expect(page.getByText(/wherever each reader is/)).toBeVisible()

  await page.goto('/app/outbox/calendar')
  const planned = page.getByRole('link', { name: /a year on the shelf/ })
  const days = page.getByRole('cell')
  const dayOf = async (): Promise<number> => {
    await expect(planned).toBeVisible()
    return days.evaluateAll((cells) =>
      cells.findIndex((cell) => cell.textContent.includes('a year on the shelf')),
    )
  }
  if (!(await planned.isVisible())) await page.getByRole('button', { name: 'Next' }).click()
  const first = await dayOf()

  // To the day before, by keys; the focus stays with it.
  await planned.focus()
  await page.keyboard.press('Shift+ArrowLeft')
  await expect(page.getByRole('status').filter({ hasText: 'now goes out on Saturday' })).toBeAttached()
  await expect.poll(dayOf).toBe(first - 1)
  await expect(planned).toBeFocused()

  // And back by drag.
  await planned.dragTo(days.nth(first))
  await expect(page.getByRole('status').filter({ hasText: 'now goes out on Sunday' })).toBeAttached()
  await expect.poll(dayOf).toBe(first)
})
