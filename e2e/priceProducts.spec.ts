import { expect, test } from '@playwright/test'
import { giveName, signIn } from './marketer.ts'

test('a product is priced, its tax seen, put on sale, and its coupon tried', async ({ page }) => {
  const inspector = page.getByRole('complementary', { name: 'Inspector' })
  const prices = page.getByRole('region', { name: 'Price list' })
  const paid = page.getByRole('region', { name: 'What buyers pay' })
  await signIn(page, '/app/library/products')
  await page.getByRole('button', { name: 'New product' }).click()
  await giveName(page, 'Kettle stitch sampler')
  await page.getByRole('button', { name: 'Make product' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Kettle stitch sampler' })).toBeVisible()

  // One price to be paid in three payments, that does not divide.
  await prices.getByRole('button', { name: 'Price 1' }).click()
  await inspector.getByRole('textbox', { name: 'Name', exact: true }).fill('In three')
  await inspector.getByRole('combobox', { name: 'How it is paid' }).press('ArrowDown')
  await page.getByRole('option', { name: 'In several payments' }).click()
  await inspector.getByRole('textbox', { name: 'In all', exact: true }).fill('100')
  await expect(prices.getByRole('row', { name: /In three/ })).toContainText('3 payments of €33.34 or €33.33')
  await expect(paid.getByRole('row', { name: /In three/ })).toContainText('€100')
  await expect(paid).toContainText('23 % tax is inside.')

  // What is missing is said; then it goes on sale.
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible()
  await page
    .getByRole('button', { name: /to fix/ })
    .first()
    .click()
  await expect(page.getByText('Say what buyers get, or that they get nothing but thanks')).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Product settings' }).click()
  await inspector.getByLabel('Nothing but thanks').check()
  await inspector
    .getByRole('textbox', { name: 'Description' })
    .fill('Three kettle stitches on one board. Sent by post.')
  await expect(page.getByRole('button', { name: 'Checks passed' })).toBeVisible()
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()

  // A coupon for everything takes off a fifth.
  await paid.getByRole('combobox', { name: 'With the coupon' }).press('ArrowDown')
  await page.getByRole('option', { name: 'BENCH-20' }).click()
  await expect(paid.getByRole('row', { name: /In three/ })).toContainText('€80')
  await page.goto('/app/library/products')
  await expect(page.getByRole('row', { name: /Kettle stitch sampler/ })).toContainText('live')
})
