import { expect, test } from '@playwright/test'
import { expectNoFindings } from '../accessibility.ts'
import { pay, sayWho, visitorAt } from '../buying.ts'
import { withoutNotices } from '../editor.ts'
import { beginFunnel, giveFile, goLiveMended, uploadFile } from '../funnels.ts'
import { openMail, signIn } from '../marketer.ts'
import { goToPerson, journal } from '../rehearsing.ts'
import { ownFile } from '../newcomer.ts'

test.beforeEach(({ page }) => withoutNotices(page))

test('a download is sold: sales page, order page, card, the file, and the newsletter five days later', async ({
  page,
  browser,
}) => {
  await signIn(page, '/app/library/files')
  await uploadFile(page, 'waxing-chart.txt')
  await beginFunnel(page, { goal: 'Sell something', starter: /^A download/, name: 'Waxing chart' })
  await giveFile(page, 'waxing-chart.txt')
  await goLiveMended(page)

  // One button, an order page with two fields, and a card.
  const buyer = await visitorAt(browser, '/p/waxing-chart')
  await expectNoFindings(buyer)
  await buyer.getByRole('link', { name: 'Get Waxing chart' }).click()
  await expect(buyer).toHaveURL(/\/p\/waxing-chart\/order/)
  await expect(buyer.locator('form[data-order] .field input')).toHaveCount(2)
  await sayWho(buyer, 'Linde', 'linde@walk-one.test')
  await pay(buyer, 'Pay now')
  await expect(buyer.getByText('Thank you, Linde')).toBeVisible()
  await expect(buyer.getByText('You paid €7.')).toBeVisible()
  await buyer.context().close()

  // Buyers of the other thing at the same price get the other thing.
  const other = await visitorAt(browser, '/p/field-guide/order')
  await sayWho(other, 'Malte', 'malte@walk-one.test')
  await other.getByLabel('Country').selectOption('IE')
  await pay(other, 'Pay €7')
  await expect(other.getByText('Thank you, Malte')).toBeVisible()
  await other.context().close()

  await openMail(page, 'linde@walk-one.test', 'Here is Waxing chart')
  const file = /https?:\S+\/go\/\S+/
  await page.getByRole('button', { name: 'Text' }).click()
  const link = file.exec(await page.locator('pre').innerText())?.[0] ?? ''
  expect(await (await page.request.get(link)).text()).toBe(ownFile.buffer.toString())
  await page.goto('/app/outbox/inbox')
  await page.getByLabel('Search by subject or address').fill('malte@walk-one.test')
  await expect(page.getByRole('link', { name: /Your order: Thread & Needle.*malte@/ })).toBeVisible()
  // What is listed is his by then.
  await expect(page.getByRole('link', { name: /linde@walk-one/ })).toHaveCount(0)
  await expect(page.getByRole('link', { name: /Waxing chart/ })).toHaveCount(0)

  // Five days later, and not before, the newsletter.
  await goToPerson(page, 'Linde')
  await page.getByRole('button', { name: 'Mark as rehearsal' }).click()
  await expect(journal(page)).toContainText('bought “Waxing chart”')
  await expect(journal(page)).not.toContainText('joined the topic “Newsletter”')
  // Other follow-ups have moments of theirs on the way.
  const next = page.getByRole('button', { name: 'Jump to next' })
  await expect(async () => {
    if (!(await journal(page).innerText()).includes('joined the topic “Newsletter”')) await next.click()
    await expect(journal(page)).toContainText('joined the topic “Newsletter”', { timeout: 2_000 })
  }).toPass({ timeout: 60_000 })
  await expect(journal(page)).toContainText(/Waxing chart: buyers.*waits 5 days/s)
})
