import { expect, test } from '@playwright/test'
import { expectNoFindings } from './accessibility.ts'
import { cards, sayWho, typeCard, visitorAt } from './buying.ts'
import { withoutNotices } from './editor.ts'
import { openMail, signIn } from './marketer.ts'

test.beforeEach(({ page }) => withoutNotices(page))

test('a download is bought with a card that is declined and another, delivered, and given back', async ({
  page,
  browser,
}) => {
  await signIn(page)
  const buyer = await visitorAt(browser, '/p/field-guide/order')
  await expectNoFindings(buyer)
  await sayWho(buyer, 'Wren', 'wren@sale.test')
  await buyer.getByLabel('Country').selectOption('IE')

  // A card that is declined loses nothing; another one pays, by keyboard.
  await typeCard(buyer, cards.declined)
  await buyer.getByRole('button', { name: 'Pay €7' }).click()
  await expect(buyer.getByRole('alert').first()).toContainText('Your card was declined.')
  await typeCard(buyer, cards.approved)
  await buyer.getByRole('button', { name: 'Pay €7' }).press('Enter')
  await expect(buyer.getByText('Thank you, Wren')).toBeVisible()
  await expect(buyer.getByText('You paid €7.')).toBeVisible()
  await expect(buyer.getByRole('link', { name: 'Download Thread & Needle Field Guide' })).toBeVisible()
  await buyer.getByRole('link', { name: 'Your invoice' }).click()
  await expect(buyer.getByRole('heading', { level: 1 })).toHaveText(/^Invoice \d+$/)
  await expect(buyer.getByText('Which thread for which book, and how to wax it.')).toBeVisible()
  await expectNoFindings(buyer)
  await buyer.context().close()

  // What was bought came by email, with the receipt; buyers of the other thing at that price get neither.
  await openMail(page, 'wren@sale.test', 'Your order: Thread & Needle Field Guide')
  await page.goto('/app/outbox/inbox')
  await page.getByLabel('Search by subject or address').fill('wren@sale.test')
  await expect(page.getByRole('link', { name: /Here it is:.*wren@sale.test/ })).toHaveCount(1)

  // The order, and the money back.
  await page.goto('/app/results/orders')
  const row = page.getByRole('row', { name: /Wren.*Field Guide/ })
  await expect(row.filter({ hasText: 'paid' }).first()).toBeVisible()
  await expect(row.filter({ hasText: 'the card was declined' })).toHaveCount(1)
  await row.filter({ hasNotText: 'declined' }).getByRole('link').first().click()
  await page.getByRole('button', { name: 'Refund', exact: true }).click()
  const dialog = page.getByRole('dialog', { name: 'Refund' })
  await dialog.getByLabel('Amount').fill('8')
  await dialog.getByRole('button', { name: 'Give it back' }).click()
  await expect(dialog.getByText('€7 at most can be given back.')).toBeVisible()
  await dialog.getByLabel('Amount').fill('7')
  await dialog.getByRole('button', { name: 'Give it back' }).click()
  await expect(page.getByText('refunded', { exact: true })).toBeVisible()
  await expect(page.getByRole('link', { name: /^Credit note \d+$/ })).toBeVisible()
  await expectNoFindings(page)
})
