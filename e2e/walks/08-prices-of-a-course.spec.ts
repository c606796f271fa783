import { expect, test } from '@playwright/test'
import { pay, sayWho, visitorAt } from '../buying.ts'
import { choose, inspector, saved, withoutNotices } from '../editor.ts'
import { beginFunnel, goLiveMended } from '../funnels.ts'
import { addAction, outlined } from '../library.ts'
import { signIn } from '../marketer.ts'
import { goToPerson, journal, passADay, rehearse } from '../rehearsing.ts'

test.beforeEach(({ page }) => withoutNotices(page))

test('a course has a standard and a dearer price, one to choose, places, terms, an extra, and a price with nothing behind it', async ({
  page,
  browser,
}) => {
  await signIn(page)
  await beginFunnel(page, { goal: 'Give a short course', starter: /^A course with/, name: 'Raised bands' })
  const funnel = page.url()

  // The price list, price by price.
  await page.goto('/app/library/products')
  await page.getByRole('link', { name: 'Raised bands', exact: true }).click()
  const prices = page.getByRole('region', { name: 'Price list' })
  const panel = inspector(page)
  const named = (name: string) => panel.getByRole('textbox', { name: 'Name', exact: true }).fill(name)
  await prices.getByRole('button', { name: 'At once' }).click()
  await named('Standard')
  await panel.getByLabel('Introductory price').check()
  await panel.getByRole('textbox', { name: 'At first' }).fill('49')
  await panel.getByRole('textbox', { name: 'For the first' }).fill('10')
  await panel.getByRole('textbox', { name: 'Places in all' }).fill('40')
  await expect(prices.getByRole('row', { name: /Standard/ })).toContainText('€49')
  await prices.getByRole('button', { name: 'In three payments' }).click()
  // Payments that do not divide, the tax in them, and a coupon that takes off a fifth.
  const paid = page.getByRole('region', { name: 'What buyers pay' })
  await panel.getByRole('textbox', { name: 'In all', exact: true }).fill('100')
  await expect(prices.getByRole('row', { name: /In three/ })).toContainText('3 payments of €33.34 or €33.33')
  await expect(paid.getByRole('row', { name: /In three/ })).toContainText('€100')
  await expect(paid).toContainText('23 % tax is inside.')
  await choose(paid, 'With the coupon', 'BENCH-20')
  await expect(paid.getByRole('row', { name: /In three/ })).toContainText('€80')
  await named('With a bonus')
  await choose(panel, 'How it is paid', 'Once')
  await panel.getByRole('textbox', { name: 'In all', exact: true }).fill('119')
  await addAction(page, 'A file')
  await choose(panel, 'File', 'Five-Hole Pamphlet templates.pdf')
  await page.getByRole('button', { name: 'Add a price' }).click()
  await named('Pay what you want')
  await choose(panel, 'How it is paid', 'Buyers choose how much')
  await panel.getByRole('textbox', { name: 'At least' }).fill('20')
  await panel.getByRole('textbox', { name: 'Suggested' }).fill('60')
  await page.getByRole('button', { name: 'Add a price' }).click()
  await named('An hour at the bench')
  await panel.getByLabel('Instead of what the product brings').check()
  await addAction(page, 'An address elsewhere')
  await panel.getByRole('textbox', { name: 'Web address' }).fill('https://bench.elsewhere.test/hours')
  await saved(page)

  // Terms on the order page; the extra, the upsell and the smaller offer stand there already.
  await page.goto('/app/library/pages')
  await page.getByRole('link', { name: 'Raised bands: order page' }).first().click()
  await outlined(page, 'order form')
  await panel.getByRole('textbox', { name: 'What buyers must agree to' }).fill('I agree to the terms')
  await saved(page)
  await page.goto(funnel)
  await goLiveMended(page)

  // The dearer one, with the extra; straight into the course after paying.
  const buyer = await visitorAt(browser, '/p/raised-bands/order')
  for (const words of ['€49', 'later €79', '€119', 'Pay what you want', 'An hour at the bench'])
    await expect(buyer.locator('form[data-order]')).toContainText(words)
  await buyer.getByRole('radio', { name: /With a bonus/ }).check()
  await sayWho(buyer, 'Sorcha', 'sorcha@walk-eight.test')
  await buyer.getByLabel(/Yes, add Raised bands: extra/).check()
  await expect(buyer.locator('.sum tfoot')).toContainText('€131')
  await pay(buyer, 'Pay now')
  await expect(buyer.locator('.fault').first()).toBeVisible()
  await buyer.getByLabel('I agree to the terms').check()
  await pay(buyer, 'Pay now')
  await expect(buyer.getByText('Raised bands: one more offer')).toBeVisible()
  await buyer.getByRole('link', { name: 'No, thank you' }).click()
  await buyer.getByRole('button', { name: 'Yes, add it to my order' }).click()
  await expect(buyer.getByText('Thank you, Sorcha')).toBeVisible()
  await expect(buyer.getByText('You paid €160.')).toBeVisible()
  await expect(buyer.getByRole('link', { name: 'Download Raised bands' })).toBeVisible()
  await buyer.getByRole('link', { name: 'Open Raised bands' }).click()
  await expect(buyer.getByRole('heading', { level: 1 })).toHaveText('Lesson one')
  await expect(buyer.getByText('In this course')).toBeVisible()
  await buyer.context().close()
  await goToPerson(page, 'Sorcha')
  await expect(journal(page)).toContainText('entered the follow-up “Raised bands: buyers’ first weeks”')
  await expect(journal(page)).toContainText('was sent “Raised bands: how to begin”')

  // The price with nothing kept here leads elsewhere, and into no course.
  const guest = await visitorAt(browser, '/p/raised-bands/order')
  await guest.getByRole('radio', { name: /An hour at the bench/ }).check()
  await sayWho(guest, 'Torben', 'torben@walk-eight.test')
  await guest.getByLabel('I agree to the terms').check()
  await pay(guest, 'Pay now')
  await guest.getByRole('link', { name: 'No, thank you' }).click()
  await guest.getByRole('link', { name: 'No, thank you' }).click()
  await expect(guest.getByText('Thank you, Torben')).toBeVisible()
  await expect(guest.getByRole('link', { name: 'Go to Raised bands' })).toHaveAttribute(
    'href',
    'https://bench.elsewhere.test/hours',
  )
  await expect(guest.getByRole('link', { name: 'Open Raised bands' })).toHaveCount(0)

  // Less than the least is refused, and who leaves the order page is written to.
  await guest.goto('/p/raised-bands/order')
  await guest.getByRole('radio', { name: /Pay what you want/ }).check()
  await guest.getByLabel(/What you pay/).fill('5')
  await guest.getByLabel('Email', { exact: true }).fill('ulla@walk-eight.test')
  await guest.getByLabel('First name').fill('Ulla')
  await guest.getByRole('button', { name: 'Go on' }).click()
  await expect(guest.getByText('It is 20 EUR at least.')).toBeVisible()
  await guest.getByLabel(/What you pay/).fill('25')
  await guest.getByLabel(/What you pay/).press('Tab')
  await expect(guest.locator('.sum tfoot')).toContainText('€25')
  await guest.context().close()
  const ulla = await rehearse(page, 'Ulla')
  await passADay(page, 'Ulla')
  await page.goto(ulla)
  await expect(journal(page)).toContainText('was sent “Raised bands: your order is still here”')
})
