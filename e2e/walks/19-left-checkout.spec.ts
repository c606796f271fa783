import { expect, test, type Page } from '@playwright/test'
import { pay, sayWho, visitorAt } from '../buying.ts'
import { withoutNotices } from '../editor.ts'
import { openMail, signIn } from '../marketer.ts'
import { journal, passADay, rehearse } from '../rehearsing.ts'

test.beforeEach(({ page }) => withoutNotices(page))

/** Leaves the order page once the address is typed. */
async function leave(page: Page, firstName: string, address: string): Promise<void> {
  await sayWho(page, firstName, address)
  await page.context().close()
}

test('who leaves the order page is written to three times at most, and not after the order', async ({
  page,
  browser,
}) => {
  await signIn(page)
  await leave(await visitorAt(browser, '/p/first-journal/order'), 'Quirin', 'quirin@walk-nineteen.test')
  const quirin = await rehearse(page, 'Quirin')
  await passADay(page, 'Quirin')
  await page.goto(quirin)
  await expect(journal(page)).toContainText('left the checkout of “Bind Your First Journal”')
  await expect(journal(page)).toContainText('was sent “Your order is still here”')
  const next = page.getByRole('button', { name: 'Jump to next' })
  await next.click()
  await expect(journal(page)).toContainText('was sent “Is it the sewing?”')

  // The second email is opened on another device: the cart comes along, and is paid there.
  await openMail(page, 'quirin@walk-nineteen.test', 'Is it the sewing?')
  const link = await page
    .frameLocator('iframe')
    .getByRole('link', { name: 'Back to your order' })
    .getAttribute('href')
  const device = await visitorAt(browser, link ?? '')
  await expect(device.getByText('For quirin@walk-nineteen.test')).toBeVisible()
  await device.getByLabel('Country').selectOption('IE')
  await device.getByLabel(/I agree to the terms/).check()
  await pay(device, 'Begin the course')
  await expect(device.getByText(/One more thing, now that you are in|Thank you, Quirin/)).toBeVisible()
  await device.context().close()
  await page.goto(quirin)
  await expect(page.getByRole('region', { name: 'Follow-ups' })).not.toContainText('Left checkout next')
  await expect(journal(page)).not.toContainText('The last word about it')

  // Who does not come back gets the last one, with a code of their own and its last day.
  await leave(await visitorAt(browser, '/p/first-journal/order'), 'Ruthven', 'ruthven@walk-nineteen.test')
  const ruthven = await rehearse(page, 'Ruthven')
  await passADay(page, 'Ruthven')
  await page.goto(ruthven)
  await expect(journal(page)).toContainText('was sent “Your order is still here”')
  await next.click()
  await expect(journal(page)).toContainText('was sent “Is it the sewing?”')
  await next.click()
  await openMail(page, 'ruthven@walk-nineteen.test', 'The last word about your order')
  await expect(page.frameLocator('iframe').getByText(/COME-BACK-[A-Z2-9]{8}/)).toBeVisible()
  const back = await page
    .frameLocator('iframe')
    .getByRole('link', { name: 'Back to your order' })
    .getAttribute('href')
  const again = await visitorAt(browser, back ?? '')
  await expect(again.getByLabel('Coupon')).toHaveValue(/^COME-BACK-/)
  await expect(again.getByText(/15 % off: you save/)).toBeVisible()
  await again.context().close()
})
