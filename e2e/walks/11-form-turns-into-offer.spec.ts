import { expect, test } from '@playwright/test'
import { pay, sayWho, visitorAt } from '../buying.ts'
import { choose, inspector, saved, withoutNotices } from '../editor.ts'
import { addAction, makeCourse, makeOrderPage, makeProduct, publishNow } from '../library.ts'
import { giveName, openMail, signIn } from '../marketer.ts'

test.beforeEach(({ page }) => withoutNotices(page))

test('a form in a pop-up turns into an offer, and there is a course for everybody, for subscribers and for buyers', async ({
  page,
  browser,
}) => {
  await signIn(page)
  await makeCourse(page, { name: 'Gilding for all', who: 'Everybody', path: 'gilding-all' })
  await makeCourse(page, { name: 'Gilding by letter', who: 'Subscribers', path: 'gilding-letter' })
  await makeCourse(page, { name: 'Gilding at home', who: 'Buyers', path: 'gilding-home' })

  // A short course, below twenty, with its order page.
  const panel = inspector(page)
  await makeProduct(page, 'Gilding at home')
  await panel.getByRole('textbox', { name: 'Description' }).fill('Four short films and a list of tools.')
  await addAction(page, 'A course')
  await choose(panel, 'Course', 'Gilding at home')
  await page.getByRole('region', { name: 'Price list' }).getByRole('button', { name: 'Price 1' }).click()
  await panel.getByRole('textbox', { name: 'In all', exact: true }).fill('19')
  await publishNow(page)
  await makeOrderPage(page, {
    name: 'Gilding order',
    sells: 'Gilding at home',
    heading: 'Gold at your own table',
  })
  await publishNow(page)

  // The form gives the guide, and an offer stands where it stood; it comes up by itself on one page.
  await page.goto('/app/library/forms')
  await page.getByRole('button', { name: 'New form' }).click()
  await giveName(page, 'Gilding guide')
  await page.getByRole('button', { name: 'Make form' }).click()
  await choose(panel, 'After sending', 'An offer in its place')
  await panel.getByRole('textbox', { name: 'Heading', exact: true }).last().fill('Your guide is on its way')
  await choose(panel, 'Leads to', 'A page')
  await choose(panel, 'Page', 'Gilding order')
  await addAction(page, 'Send a file by email')
  await choose(panel, 'File', 'Five-Hole Pamphlet templates.pdf')
  await publishNow(page)
  await page.goto('/app/library/pop-ups')
  await page.getByRole('button', { name: 'New pop-up' }).click()
  await giveName(page, 'Gilding guide')
  await page.getByRole('combobox', { name: 'Form' }).fill('Gilding')
  await page.getByRole('option', { name: 'Gilding guide' }).click()
  await page.getByRole('button', { name: 'Make pop-up' }).click()
  await panel.getByRole('textbox', { name: 'After so many seconds' }).fill('1')
  await panel.getByRole('combobox', { name: 'On pages', exact: true }).fill('/p/gilding-all')
  await page.keyboard.press('Enter')
  await expect(panel).toContainText('opens after 1 second')
  await saved(page)
  await publishNow(page)

  // A visitor sees the course for everybody; the pop-up comes, and turns into the offer.
  const visitor = await visitorAt(browser, '/p/gilding-all')
  await expect(visitor.getByRole('heading', { level: 1 })).toHaveText('Gilding for all')
  const dialog = visitor.getByRole('dialog')
  await dialog.getByLabel('First name').fill('Yrsa')
  await dialog.getByLabel('Email address').fill('yrsa@walk-eleven.test')
  await dialog.getByLabel(/Yes, you may write to me/).check()
  await dialog.getByRole('button', { name: 'Send it to me' }).click()
  await expect(dialog.getByText('Your guide is on its way')).toBeVisible()
  await dialog.getByRole('link', { name: 'Yes, show me' }).click()
  await sayWho(visitor, 'Yrsa', 'yrsa@walk-eleven.test')
  await expect(visitor.locator('.sum tfoot')).toContainText('€19')
  await pay(visitor, 'Pay now')
  await expect(visitor.getByRole('heading', { level: 1 })).toHaveText('Thank you, Yrsa')
  await visitor.context().close()

  // Others are told how one gets in; the link of the email opens both courses without an account.
  const device = await visitorAt(browser, '/p/gilding-home')
  await expect(device.getByText('This lesson is for who has the course.')).toBeVisible()
  await device.goto('/p/gilding-letter')
  await expect(device.getByText('This lesson is for who gets our news.')).toBeVisible()
  await device.getByRole('link', { name: 'Send me the way in' }).click()
  await device.getByLabel(/[Aa]ddress/).fill('yrsa@walk-eleven.test')
  await device.getByRole('button', { name: 'Send me the way in' }).click()
  await expect(device.getByText('an email with your way in is on its way')).toBeVisible()
  await openMail(page, 'yrsa@walk-eleven.test', 'Your way in at Quillfeather Bindery')
  const way = page.frameLocator('iframe').getByRole('link', { name: 'Go in' })
  await device.goto((await way.getAttribute('href')) ?? '')
  await expect(device.getByRole('heading', { level: 1 })).toHaveText('Gilding by letter')
  const mark = new URL(device.url()).searchParams.get('me') ?? ''
  await device.goto(`/p/gilding-home?me=${mark}`)
  await expect(device.getByRole('heading', { level: 1 })).toHaveText('Gilding at home')
  await expect(device.getByText('This lesson is for')).toHaveCount(0)
  await device.context().close()
})
