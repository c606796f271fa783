import { expect, test } from '@playwright/test'
import { inspector, saved, sheet, withoutNotices } from '../editor.ts'
import { tinyFilm } from '../../testing/tinyFilm.ts'
import { signIn } from '../marketer.ts'
import { ownFile, signUp } from '../newcomer.ts'

test.beforeEach(({ page }) => withoutNotices(page))

test('a thank-you page that bridges: what comes next, where to look, a short video, the next offer', async ({
  page,
  browser,
}) => {
  await signIn(page, '/app/library/files')
  await page.getByRole('button', { name: 'Files', exact: true }).click()
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles({ name: 'a-word.mp4', mimeType: 'video/mp4', buffer: tinyFilm(40) })
  await expect(page.getByText('a-word.mp4').first()).toBeVisible()

  await page.goto('/app/funnels')
  await page.getByRole('button', { name: 'New funnel' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Wooden folder guide')
  await page.getByRole('button', { name: 'Make funnel' }).click()
  const left = page.getByRole('region', { name: 'What is left to do' })
  await left.getByRole('button', { name: 'Choose the file' }).click()
  await left.locator('input[type=file]').setInputFiles(ownFile)
  await expect(left.getByRole('button', { name: 'Choose the file' })).toHaveCount(0)

  await left.getByRole('link', { name: 'Write “thank-you page”' }).click()
  await expect(sheet(page).getByText('Look in the folders for spam and for promotions')).toBeVisible()
  await expect(sheet(page).getByText('Add us to your contacts, so that')).toBeVisible()
  await sheet(page).locator('.b.video').click()
  await inspector(page).getByRole('combobox', { name: 'Video file' }).fill('a-word')
  await page.getByRole('option', { name: 'a-word.mp4' }).first().click()
  // The button of the next offer.
  await sheet(page).locator('.b.button').last().click()
  await inspector(page).getByRole('combobox', { name: 'Leads to' }).press('ArrowDown')
  await page.getByRole('option', { name: 'A page', exact: true }).click()
  await inspector(page).getByRole('combobox', { name: 'Page', exact: true }).fill('Bind Your First')
  await page.getByRole('option', { name: 'Bind Your First Journal' }).click()
  await saved(page)
  await page.goBack()
  await page.getByRole('button', { name: /to fix$|to consider$/ }).click()
  // Forty seconds are short enough; captions are advised.
  await expect(page.getByText('a minute is plenty here')).toHaveCount(0)
  await expect(page.getByText('Keeps it from going live')).toHaveCount(0)

  // Its pages are shared under a domain of the business.
  await page.goto('/app/library/site')
  const domains = page.getByRole('combobox', { name: 'Your own domains' })
  await domains.fill('www.quillfeather.test')
  await domains.press('Enter')
  await page.getByRole('button', { name: 'Save settings' }).click()
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  await page.goto('/app/funnels')
  await page.getByRole('link', { name: 'Wooden folder guide' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Wooden folder guide' })).toBeVisible()
  await page.getByRole('button', { name: 'More', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Settings' }).click()
  await page.getByRole('combobox', { name: 'Domain' }).press('ArrowDown')
  await page.getByRole('option', { name: 'www.quillfeather.test' }).click()
  await page.getByRole('button', { name: 'Save settings' }).click()
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  await page.getByRole('link', { name: 'Back to the line' }).click()
  await page.getByRole('button', { name: 'Go live' }).click()
  await expect(page.getByRole('button', { name: 'Go live' })).toHaveCount(0)

  const visitor = await (await browser.newContext({ javaScriptEnabled: false })).newPage()
  await signUp(visitor, 'wooden-folder-guide', 'marit@bridge.test')
  await expect(visitor.getByRole('heading', { level: 1 })).toHaveText(/^Thank you/)
  await expect(visitor.locator('video')).toHaveCount(1)
  await expect(visitor.getByRole('link', { name: 'Have a look' })).toHaveAttribute('href', /first-journal/)
  const card = await visitor.request.get(
    (await visitor.getByRole('link', { name: 'Add us to your contacts' }).getAttribute('href')) ?? '',
  )
  expect(await card.text()).toContain('BEGIN:VCARD')
  expect(await (await page.request.get('/p/wooden-folder-guide')).text()).toContain(
    'https://www.quillfeather.test/wooden-folder-guide',
  )
  await visitor.context().close()

  await page.goto('/app/people')
  // The newest stands at the top.
  await expect(page.getByRole('row').filter({ hasText: '@' }).first()).toContainText('marit@bridge.test')

  await page.goto('/app/library/site')
  await page.locator('.v-chip', { hasText: 'www.quillfeather.test' }).getByRole('button').click()
  await page.getByRole('button', { name: 'Save settings' }).click()
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
})
