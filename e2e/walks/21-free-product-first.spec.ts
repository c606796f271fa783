import { expect, test } from '@playwright/test'
import { pay, visitorAt } from '../buying.ts'
import { choose, inspector, withoutNotices } from '../editor.ts'
import { addAction, makeOrderPage, makeProduct, publishNow } from '../library.ts'
import { openMail, signIn } from '../marketer.ts'
import { journal, passADay, rehearse } from '../rehearsing.ts'

test.beforeEach(({ page }) => withoutNotices(page))

test('a free product asks for name and address only, and leads to an offer that is filled in', async ({
  page,
  browser,
}) => {
  // A product for nothing, which brings a file and leads on to the order page of the course.
  await signIn(page)
  await makeProduct(page, 'Signature chart')
  await page.getByRole('region', { name: 'Price list' }).getByRole('button', { name: 'Price 1' }).click()
  await inspector(page).getByRole('combobox', { name: 'How it is paid' }).press('ArrowDown')
  await page.getByRole('option', { name: 'Free', exact: true }).click()
  await page.getByRole('button', { name: 'Product settings' }).click()
  await addAction(page, 'A file')
  await choose(inspector(page), 'File', 'Five-Hole Pamphlet templates.pdf')
  await choose(inspector(page), 'After paying, buyers go to', 'A page')
  await choose(inspector(page), 'Page', 'First Journal: order')
  await inspector(page).getByRole('textbox', { name: 'Description' }).fill('Which sheets lie in which fold.')
  await expect(page.getByRole('button', { name: 'Checks passed' })).toBeVisible()
  await publishNow(page)
  await makeOrderPage(page, {
    name: 'Signature chart page',
    sells: 'Signature chart',
    heading: 'The chart, for nothing',
    button: 'Send it to me',
  })
  await publishNow(page)

  // No card is asked for; the offer comes next, with what was typed.
  const reader = await visitorAt(browser, '/p/signature-chart-page')
  await reader.getByLabel('Email', { exact: true }).fill('siobhan@walk-twentyone.test')
  await reader.getByLabel('First name').fill('Siobhan')
  await reader.getByRole('button', { name: 'Go on' }).click()
  await expect(reader.getByText('For siobhan@walk-twentyone.test')).toBeVisible()
  await expect(reader.locator('iframe[title="Your card"]')).toHaveCount(0)
  await reader.getByRole('button', { name: 'Send it to me' }).click()
  await expect(reader.getByRole('heading', { level: 1 })).toHaveText('Your place at the bench')
  await expect(reader.getByLabel('Email', { exact: true })).toHaveValue('siobhan@walk-twentyone.test')
  await expect(reader.getByLabel('First name')).toHaveValue('Siobhan')
  await openMail(page, 'siobhan@walk-twentyone.test', 'Your order: Signature chart')

  // Left without buying: the recovery emails come, and stop at the order.
  await reader.getByRole('button', { name: 'Go on' }).click()
  await expect(reader.getByText('For siobhan@walk-twentyone.test')).toBeVisible()
  const left = reader.url()
  await reader.goto('about:blank')
  const siobhan = await rehearse(page, 'Siobhan')
  await passADay(page, 'Siobhan')
  await page.goto(siobhan)
  await expect(journal(page)).toContainText('was sent “Your order is still here”')
  await reader.goto(left)
  await reader.getByLabel('Country').selectOption('IE')
  await reader.getByLabel(/I agree to the terms/).check()
  await pay(reader, 'Begin the course')
  await expect(reader.getByText('One more thing, now that you are in')).toBeVisible()
  await reader.context().close()
  await expect(journal(page)).toContainText('bought “Bind Your First Journal”')
  await expect(page.getByRole('region', { name: 'Follow-ups' })).toContainText('Left checkout')
  await expect(journal(page)).not.toContainText('was sent “Is it the sewing?”')
})
