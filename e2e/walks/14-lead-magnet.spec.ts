import { expect, test } from '@playwright/test'
import { inspector, saved, withoutNotices } from '../editor.ts'
import { openMail, signIn } from '../marketer.ts'
import { giveFile, uploadFile } from '../funnels.ts'
import { signUp } from '../newcomer.ts'

test.beforeEach(({ page }) => withoutNotices(page))

test('a lead-magnet funnel: the guide, its pages, description and path, a phone, and who came', async ({
  page,
  browser,
}) => {
  await signIn(page, '/app/library/files')
  await uploadFile(page, 'folding-guide.txt')

  await page.goto('/app/funnels')
  await page.getByRole('button', { name: 'New funnel' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Zigzag guide')
  await page.getByRole('button', { name: 'Make funnel' }).click()
  const left = page.getByRole('region', { name: 'What is left to do' })
  await giveFile(page, 'folding-guide.txt')

  // What search engines say of the landing page, and how it looks on a phone.
  await left.getByRole('link', { name: 'Write “landing page”' }).click()
  await inspector(page)
    .getByLabel('Description for search engines')
    .fill('Four folds that every book begins with.')
  await page.getByRole('button', { name: 'Phone', exact: true }).click()
  await expect(page.locator('iframe[title="The page as its visitors see it"]')).toHaveCSS(
    'width',
    /^3[0-9]{2}px|^390/,
  )
  await saved(page)
  await page.goBack()
  await page.getByRole('button', { name: /to fix$/ }).click()
  await page.getByRole('button', { name: /^Mend all/ }).click()
  await expect(page.getByText('Keeps it from going live')).toHaveCount(0)
  await page.getByRole('button', { name: 'Go live' }).click()
  await expect(page.getByRole('button', { name: 'Go live' })).toHaveCount(0)

  // Another path: its pages move, and the old address leads on.
  await page.getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: 'Settings' }).click()
  await page.getByLabel('Path of its pages').fill('four-folds')
  await page.getByRole('button', { name: 'Save settings' }).click()
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  await page.getByRole('link', { name: 'Back to the line' }).click()

  const visitor = await (
    await browser.newContext({ javaScriptEnabled: false, viewport: { width: 390, height: 844 } })
  ).newPage()
  await visitor.goto('/p/zigzag-guide')
  expect(new URL(visitor.url()).pathname).toBe('/p/four-folds')
  await expect(visitor.locator('meta[name=description]')).toHaveAttribute('content', /Four folds/)
  // Search engines find the landing page and leave the file alone.
  expect((await visitor.request.get('/p/four-folds/file')).headers()['x-robots-tag']).toBe('noindex')
  const map = await (await visitor.request.get('/sitemap.xml')).text()
  expect(map).toMatch(/\/four-folds</)
  expect(map).not.toContain('four-folds/file')
  await signUp(visitor, 'four-folds', 'ilse@magnet.test')
  await expect(visitor.getByRole('heading', { level: 1 })).toHaveText(/^Thank you/)
  await visitor.context().close()
  const other = await (
    await browser.newContext({ userAgent: 'Mozilla/5.0 (Macintosh) Safari/618' })
  ).newPage()
  await other.goto('/p/four-folds')
  await other.context().close()

  await openMail(page, 'ilse@magnet.test', 'Here is Zigzag guide')
  await page.goto('/app/funnels')
  await page.getByRole('link', { name: 'Zigzag guide' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Zigzag guide' })).toBeVisible()
  await expect(async () => {
    await page.reload()
    await expect(page.getByText('2 visitors · 1 signed up')).toBeVisible({ timeout: 3_000 })
  }).toPass()
})
