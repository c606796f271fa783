import { expect, test, type Locator } from '@playwright/test'
import { withoutNotices } from '../editor.ts'
import { openMail, signIn } from '../marketer.ts'
import { makeFreeFile, ownFile, signUp } from '../newcomer.ts'

test.beforeEach(({ page }) => withoutNotices(page))

test('somebody new makes a live free-file funnel in at most 25 actions, and its first email is in the test inbox', async ({
  page,
  browser,
}) => {
  await signIn(page, '/app/funnels')
  expect(await makeFreeFile(page, 'Three folds')).toBeLessThanOrEqual(25)

  const visitor = await (await browser.newContext({ javaScriptEnabled: false })).newPage()
  await signUp(visitor, 'three-folds', 'imke@newcomer.test')
  await expect(visitor.getByRole('heading', { level: 1 })).toHaveText('Thank you, dear reader')
  await openMail(page, 'imke@newcomer.test', 'Here is Three folds')
  const mail = page.frameLocator('iframe')
  await expect(mail.getByText('Begin with the second one')).toBeVisible()
  const file = await visitor.request.get(
    (await mail.getByRole('link', { name: 'Download it' }).getAttribute('href')) ?? '',
  )
  expect(await file.text()).toContain('Fold along the grain')
  await visitor.context().close()
})

test('the same by keyboard alone', async ({ page }) => {
  await signIn(page, '/app/funnels')
  const press = (key: string): Promise<void> => page.keyboard.press(key)
  /** Goes on from field to field until something has the focus. */
  async function tabTo(what: Locator): Promise<void> {
    for (let i = 0; i < 120; i += 1) {
      if (await what.evaluate((element) => element === document.activeElement).catch(() => false)) return
      await press('Tab')
    }
    throw new Error('the focus never got there')
  }
  const left = page.getByRole('region', { name: 'What is left to do' })
  await tabTo(page.getByRole('button', { name: 'New funnel' }))
  await press('Enter')
  await expect(page.getByLabel('Name', { exact: true })).toBeFocused()
  await page.keyboard.type('Without a mouse')
  await press('Enter')

  await expect(left).toBeVisible()
  await tabTo(left.getByRole('button', { name: 'Choose the file' }))
  await press('Enter')
  const chosen = page.waitForEvent('filechooser')
  await tabTo(left.locator('input[type=file]'))
  await press('Enter')
  await (await chosen).setFiles(ownFile)
  await expect(left.getByRole('button', { name: 'Choose the file' })).toHaveCount(0)

  await tabTo(left.getByRole('link', { name: 'Write “landing page”' }))
  await press('Enter')
  const outline = page.getByRole('navigation', { name: 'Outline' })
  await tabTo(outline.locator('[tabindex="0"]').first())
  await press('ArrowDown')
  await press('ArrowDown')
  await press('Enter')
  await expect(
    page.frameLocator('iframe[title="The page as its visitors see it"]').locator('h1'),
  ).toBeFocused()
  await press('Control+a')
  await page.keyboard.type('Folded without a mouse')
  await expect(outline).toContainText('Folded without a mouse')
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible()
  await page.goBack()

  await tabTo(page.getByRole('button', { name: /to fix$/ }))
  await press('Enter')
  await tabTo(page.getByRole('button', { name: /^Mend all/ }))
  await press('Enter')
  await expect(page.getByText('Keeps it from going live')).toHaveCount(0)
  await tabTo(page.getByRole('button', { name: 'Go live' }))
  await press('Enter')
  await expect(page.getByRole('button', { name: 'Go live' })).toHaveCount(0)
  const answer = await page.request.get('/p/without-a-mouse')
  expect(await answer.text()).toContain('Folded without a mouse')
})
