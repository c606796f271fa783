import { expect, test, type Page } from '@playwright/test'
import { expectNoFindings } from '../accessibility.ts'
import { pay, sayWho, visitorAt } from '../buying.ts'
import { withoutNotices } from '../editor.ts'
import { beginFunnel, goLiveMended } from '../funnels.ts'
import { openMail, signIn } from '../marketer.ts'
import { journal, passADay, rehearse } from '../rehearsing.ts'

test.beforeEach(({ page }) => withoutNotices(page))

/** Buys the small guide, and takes nothing else. */
async function buyGuide(page: Page, firstName: string, address: string): Promise<void> {
  await sayWho(page, firstName, address)
  await page.getByLabel('Country').selectOption('IE')
  await pay(page, 'Pay €7')
  await expect(page.getByText(`Thank you, ${firstName}`)).toBeVisible()
}

test('who let an offer go by is asked once more, for fourteen minutes, and then never again', async ({
  page,
  browser,
}) => {
  await signIn(page)
  await beginFunnel(page, { goal: 'Sell something', starter: /^One more look/, name: 'Leather evening' })
  await goLiveMended(page)

  // A quarter of an hour after the purchase comes one email.
  const buyer = await visitorAt(browser, '/p/field-guide/order')
  await buyGuide(buyer, 'Ottilie', 'ottilie@walk-fifteen.test')
  const ottilie = await rehearse(page, 'Ottilie')
  await expect(page.getByRole('region', { name: 'Follow-ups' })).toContainText('Leather evening')
  const next = page.getByRole('button', { name: 'Jump to next' })
  await next.click()
  await expect(journal(page)).toContainText('was sent “Leather evening: one more look”')
  await openMail(page, 'ottilie@walk-fifteen.test', 'One more look, and then no more')
  const mail = page.frameLocator('iframe')
  await expect(mail.locator('img[src*="/countdown/own/"]')).toBeVisible()
  const link = await mail.getByRole('link', { name: 'Have one more look' }).getAttribute('href')

  // Whoever only has the address of the page finds it closed.
  const stranger = await visitorAt(browser, '/p/leather-evening')
  await expect(stranger.getByText('This offer is over.')).toBeVisible()
  await stranger.context().close()

  // The first look begins the fourteen minutes, which count down.
  await buyer.goto(link ?? '')
  await expect(buyer.locator('.count b')).toHaveText(/^00:1[34]:\d\d$/)
  await expectNoFindings(buyer)
  const address = buyer.url()
  await page.goto(ottilie)
  await expect(journal(page)).toContainText('got a personal deadline of “Leather evening: one more look”')

  // When they are over, the page is closed for good, also by the same link.
  await passADay(page, 'Ottilie')
  await expect(async () => {
    await buyer.goto(address)
    await expect(buyer.getByText('This offer is over.')).toBeVisible({ timeout: 2_000 })
  }).toPass()
  await buyer.context().close()

  // Who waits is seen, and moved on by hand; who has it by then gets nothing.
  const second = await visitorAt(browser, '/p/field-guide/order')
  await buyGuide(second, 'Perpetua', 'perpetua@walk-fifteen.test')
  await second.context().close()
  await page.goto('/app/follow-ups')
  await page.getByRole('textbox', { name: 'Search by name' }).fill('Leather evening')
  await page.getByRole('link', { name: 'Leather evening: one more look' }).click()
  await page
    .getByRole('navigation', { name: 'Parts of this follow-up' })
    .getByRole('tab', { name: 'People' })
    .click()
  const row = page.getByRole('row', { name: /Perpetua/ })
  await row.getByRole('checkbox').check()
  await page.getByRole('button', { name: 'Move on' }).click()
  await openMail(page, 'perpetua@walk-fifteen.test', 'One more look, and then no more')
})
