import { expect, test } from '@playwright/test'
import { expectNoFindings } from './accessibility.ts'
import { cards, typeCard } from './buying.ts'
import { choose, inspector, saved, sheet, withoutNotices } from './editor.ts'
import { giveName, openMail, signIn } from './marketer.ts'

test.beforeEach(({ page }) => withoutNotices(page))

test('a download is put on a page, bought with a card, delivered, and given back', async ({
  page,
  browser,
}) => {
  await signIn(page, '/app/library/pages')
  await page.getByRole('button', { name: 'New page' }).click()
  await giveName(page, 'Case templates')
  await page
    .getByRole('dialog', { name: 'New page' })
    .getByRole('combobox', { name: 'Purpose' })
    .press('ArrowDown')
  await page.getByRole('option', { name: 'order page' }).click()
  await page.getByRole('button', { name: 'Make page' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Case templates' })).toBeVisible()

  // The order form sells nothing yet, and the check says so.
  await page.getByRole('navigation', { name: 'Outline' }).getByText('order form').click()
  await choose(inspector(page), 'What it sells', 'Case Templates')
  await page.keyboard.press('Escape')
  await expect(sheet(page).getByText('Case Templates €29')).toBeVisible()
  await inspector(page).getByLabel('Button', { exact: true }).fill('Buy the templates')
  await page.getByRole('navigation', { name: 'Outline' }).locator('[data-row]').nth(1).click()
  await inspector(page).getByLabel('Words', { exact: true }).fill('Templates for three sizes')
  await saved(page)
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()

  const buyer = await (await browser.newContext()).newPage()
  await buyer.goto('/p/case-templates')
  await expectNoFindings(buyer)
  await buyer.getByLabel('Email', { exact: true }).fill('wren@sale.test')
  await buyer.getByLabel('First name').fill('Wren')
  await buyer.getByRole('button', { name: 'Go on' }).click()
  await expect(buyer.getByText('For wren@sale.test')).toBeVisible()

  // A card that is declined loses nothing; another one pays, by keyboard.
  await typeCard(buyer, cards.declined)
  await buyer.getByRole('button', { name: 'Buy the templates' }).click()
  await expect(buyer.getByRole('alert').first()).toContainText('Your card was declined.')
  await typeCard(buyer, cards.approved)
  await buyer.getByRole('button', { name: 'Buy the templates' }).press('Enter')
  await expect(buyer.getByRole('heading', { level: 1 })).toHaveText('Thank you, Wren')
  await expect(buyer.getByText('You paid €29.')).toBeVisible()
  await expect(buyer.getByRole('link', { name: 'Download Case Templates' })).toBeVisible()
  await buyer.getByRole('link', { name: 'Your invoice' }).click()
  await expect(buyer.getByRole('heading', { level: 1 })).toHaveText(/^Invoice \d+$/)
  await expect(buyer.getByText('Printable templates for cases of three sizes.')).toBeVisible()
  await expectNoFindings(buyer)
  await buyer.context().close()

  // What was bought came by email, with the receipt; buyers of the other thing at that price get neither.
  await openMail(page, 'wren@sale.test', 'Your order: Case Templates')
  await page.goto('/app/outbox/inbox')
  await page.getByLabel('Search by subject or address').fill('wren@sale.test')
  await expect(page.getByRole('link', { name: /Here it is:.*wren@sale.test/ })).toHaveCount(1)

  // The order, and the money back.
  await page.goto('/app/results/orders')
  const row = page.getByRole('row', { name: /Wren.*Case Templates/ })
  await expect(row.filter({ hasText: 'paid' }).first()).toBeVisible()
  await expect(row.filter({ hasText: 'the card was declined' })).toHaveCount(1)
  await row.filter({ hasNotText: 'declined' }).getByRole('link').first().click()
  await page.getByRole('button', { name: 'Refund', exact: true }).click()
  const dialog = page.getByRole('dialog', { name: 'Refund' })
  await dialog.getByLabel('Amount').fill('30')
  await dialog.getByRole('button', { name: 'Give it back' }).click()
  await expect(dialog.getByText('€29 at most can be given back.')).toBeVisible()
  await dialog.getByLabel('Amount').fill('29')
  await dialog.getByRole('button', { name: 'Give it back' }).click()
  await expect(page.getByText('refunded', { exact: true })).toBeVisible()
  await expect(page.getByRole('link', { name: /^Credit note \d+$/ })).toBeVisible()
  await expectNoFindings(page)
})
