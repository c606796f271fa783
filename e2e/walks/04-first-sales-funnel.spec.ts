import { expect, test, type Page } from '@playwright/test'
import { pay, sayWho, visitorAt } from '../buying.ts'
import { choose, inspector, saved, withoutNotices } from '../editor.ts'
import { beginFunnel, goLiveMended } from '../funnels.ts'
import {
  addAction,
  makeOrderPage,
  makePage,
  makeProduct,
  outlined,
  publishNow,
  writeHeading,
} from '../library.ts'
import { fillFirst, signIn } from '../marketer.ts'
import { goToPerson } from '../rehearsing.ts'

test.beforeEach(({ page }) => withoutNotices(page))

/** Puts a page on the line, after another one. */
async function addStep(page: Page, after: string, name: string): Promise<void> {
  await page.getByRole('button', { name: `Add a step after ${after}` }).click()
  await page.getByRole('dialog').getByRole('combobox', { name: 'Page' }).fill(name)
  await page.getByRole('option', { name: new RegExp(`^${name}`) }).click()
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
}

test('a first sales funnel is put together page by page, and bought with and without the offer after paying', async ({
  page,
  browser,
}) => {
  // A product with a price, and the tag of who buys it; a smaller one that is offered after paying.
  await signIn(page)
  const panel = inspector(page)
  const prices = page.getByRole('region', { name: 'Price list' })
  for (const [name, amount] of [
    ['Endpaper set', '24'],
    ['Endpaper paste', '9'],
  ] as const) {
    await makeProduct(page, name)
    await panel.getByRole('textbox', { name: 'Description' }).fill('Sent by post.')
    await panel.getByLabel('Nothing but thanks').check()
    if (name === 'Endpaper set') {
      await addAction(page, 'Put on a tag')
      await choose(panel, 'Tag', 'Buyer')
    }
    await prices.getByRole('button', { name: 'Price 1' }).click()
    await panel.getByRole('textbox', { name: 'In all', exact: true }).fill(amount)
    await publishNow(page)
  }
  await page.goto('/app/library/coupons')
  await page.getByRole('button', { name: 'New coupon' }).click()
  await fillFirst(page.getByLabel('Code', { exact: true }), 'TENTH-10')
  await page.getByRole('textbox', { name: 'Share, %' }).fill('10')
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /coupon$/ })
    .click()
  await expect(page.getByRole('row', { name: /TENTH-10/i })).toBeVisible()

  // The pages: the phone number is asked for, thought better of, and taken out again.
  await makeOrderPage(page, {
    name: 'Endpaper order',
    sells: 'Endpaper set',
    heading: 'Order your endpapers',
  })
  await panel.getByLabel('Ask for a phone number').check()
  await panel.getByLabel('Ask for a phone number').uncheck()
  await panel.getByLabel('Field for a coupon').check()
  await saved(page)
  await makePage(page, 'Endpaper thanks', 'thank-you page')
  await writeHeading(page, 'They are on their way')
  await saved(page)
  await makePage(page, 'Endpaper sales', 'sales page')
  await writeHeading(page, 'Endpapers that you marble yourself')
  await outlined(page, 'price')
  await panel.getByRole('textbox', { name: 'Name', exact: true }).fill('Endpaper set')
  await panel.getByRole('textbox', { name: 'Price', exact: true }).fill('€24')
  await panel.getByRole('textbox', { name: 'Button', exact: true }).fill('Order yours')
  await choose(panel, 'Button leads to', 'Next step of the funnel')
  await saved(page)
  await makePage(page, 'Endpaper more', 'one more offer')
  await page.getByRole('navigation', { name: 'Outline' }).locator('[data-row]').last().click()
  await choose(panel, 'What is offered', 'Endpaper paste')
  await saved(page)

  // The line: the sales page comes last and is moved to the front, the offer is put between.
  await beginFunnel(page, { goal: 'Sell something', starter: /^Start with nothing/, name: 'Endpapers' })
  await page.getByRole('button', { name: 'Add a step at the beginning' }).click()
  await page.getByRole('dialog').getByRole('combobox', { name: 'Page' }).fill('Endpaper order')
  await page.getByRole('option', { name: /^Endpaper order/ }).click()
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await addStep(page, 'Endpaper order', 'Endpaper thanks')
  await addStep(page, 'Endpaper thanks', 'Endpaper sales')
  const line = page.getByRole('group', { name: /^Line of the funnel/ })
  const sales = line.getByRole('button', { name: /^Endpaper sales/ })
  await sales.press('Alt+ArrowLeft')
  await expect(line.locator('.stop strong').nth(1)).toHaveText('Endpaper sales')
  await sales.press('Alt+ArrowLeft')
  await expect(line.locator('.stop strong').first()).toHaveText('Endpaper sales')
  await addStep(page, 'Endpaper order', 'Endpaper more')
  await goLiveMended(page)
  const seen = page.waitForEvent('popup')
  await sales.click()
  await page.getByRole('link', { name: 'See it as visitors do' }).click()
  const preview = await seen
  await expect(preview.getByRole('heading', { level: 1 })).toHaveText('Endpapers that you marble yourself')
  await preview.close()

  // Bought with the coupon and the offer, and by somebody else without both.
  const first = await visitorAt(browser, '/p/endpaper-order')
  await expect(first.getByLabel('Phone')).toHaveCount(0)
  await sayWho(first, 'Birgit', 'birgit@walk-four.test')
  await first.getByLabel(/^Coupon/).fill('tenth-10')
  await first.getByRole('button', { name: 'Use it' }).click()
  await expect(first.locator('.sum tfoot')).toContainText('€21.60')
  await pay(first, 'Pay now')
  await expect(first.getByText('Endpaper paste', { exact: true })).toBeVisible()
  await first.locator('form.next').getByRole('button').click()
  await expect(first.getByRole('heading', { level: 1 })).toHaveText('They are on their way')
  await first.context().close()
  const second = await visitorAt(browser, '/p/endpaper-order')
  await sayWho(second, 'Casper', 'casper@walk-four.test')
  await pay(second, 'Pay now')
  await second.locator('form.next .no').getByRole('link').click()
  await expect(second.getByRole('heading', { level: 1 })).toHaveText('They are on their way')
  await second.context().close()

  await page.goto('/app/results/orders')
  await expect(page.getByRole('row', { name: /Birgit.*Endpaper set/ })).toContainText('€21.60')
  await expect(page.getByRole('row', { name: /Birgit.*Endpaper paste/ })).toContainText('€9')
  await expect(page.getByRole('row', { name: /Casper/ })).toHaveCount(1)
  await goToPerson(page, 'Birgit')
  await expect(page.getByRole('region', { name: 'Profile' })).toContainText('Buyer')
})
