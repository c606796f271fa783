import { expect, test } from '@playwright/test'
import { pay, sayWho } from '../buying.ts'
import { choose, inspector, saved, sheet, withoutNotices } from '../editor.ts'
import { beginFunnel, goLiveMended } from '../funnels.ts'
import { makeOrderPage, makeProduct, outlined, publishNow } from '../library.ts'
import { openMail, signIn } from '../marketer.ts'
import { signUp } from '../newcomer.ts'
import { journal, rehearse } from '../rehearsing.ts'

test.beforeEach(({ page }) => withoutNotices(page))

test('three lessons come one a day, a fourth is copied in, and an offer follows with an order page', async ({
  page,
  browser,
}) => {
  // What is sold afterwards, with its order page.
  await signIn(page)
  await makeProduct(page, 'Paring knife')
  await inspector(page).getByRole('textbox', { name: 'Description' }).fill('Sharpened, with a strop.')
  await inspector(page).getByLabel('Nothing but thanks').check()
  await publishNow(page)
  await makeOrderPage(page, { name: 'Paring order', sells: 'Paring knife', heading: 'A knife for leather' })
  await saved(page)

  // The starter makes pages, a form and ten emails.
  await beginFunnel(page, { goal: 'Give a short course', starter: /^Three lessons/, name: 'Paring leather' })
  const funnel = page.url()
  const line = page.getByRole('group', { name: /^Line of the funnel/ })
  await expect(line.locator('.emails li')).toHaveCount(10)

  // A fourth lesson is copied in behind the third, and gets words and a day of its own.
  await line.getByRole('button', { name: /^lesson three/ }).click()
  await inspector(page).getByRole('button', { name: 'Copy its page as the next step' }).click()
  await line.getByRole('button', { name: /^lesson three \(copy\)/ }).click()
  await inspector(page).getByRole('link', { name: 'Open the page' }).click()
  await sheet(page).locator('h1').click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Lesson four')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Page settings' }).click()
  await inspector(page).getByRole('textbox', { name: 'Title' }).first().fill('Lesson four')
  await inspector(page).getByRole('textbox', { name: 'Days' }).fill('3')
  await saved(page)

  // The order page comes in before the sales page, which then goes before it.
  await page.goto(funnel)
  await line.getByRole('button', { name: 'Add a step after Paring leather: lesson three (copy)' }).click()
  await page.getByRole('dialog').getByRole('combobox', { name: 'Page' }).fill('Paring order')
  await page.getByRole('option', { name: /^Paring order/ }).click()
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await expect(line.getByRole('button', { name: /^Paring order/ })).toBeVisible()
  await line.getByRole('button', { name: /^sales page/ }).press('Alt+ArrowLeft')
  await expect(line.locator('ol > li .stop strong').last()).toHaveText(/Paring order/)
  await line.getByRole('button', { name: /^sales page/ }).click()
  await inspector(page).getByRole('link', { name: 'Open the page' }).click()
  await outlined(page, 'price: After Paring leather')
  await inspector(page).getByRole('textbox', { name: 'Price', exact: true }).fill('€79')
  await inspector(page).getByRole('textbox', { name: 'Button', exact: true }).fill('Get the knife')
  await choose(inspector(page), 'Button leads to', 'Next step of the funnel')
  await saved(page)
  await page.goto(funnel)
  const left = page.getByRole('region', { name: 'What is left to do' })
  await line.getByRole('button', { name: /^sales page/ }).press('Escape')
  await expect(left.getByRole('listitem').filter({ hasText: 'Write “lesson one”' })).toHaveCount(2)

  // What the list says is ticked off: own words, and the rest of it goes live.
  await left.getByRole('link', { name: 'Write “thank-you page”' }).click()
  await sheet(page).locator('h1').first().click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Good to have you')
  await saved(page)
  await page.goto(funnel)
  await expect(
    left.getByRole('listitem').filter({ hasText: 'Write “thank-you page”' }).getByLabel('done'),
  ).toBeVisible()
  await goLiveMended(page)
  await page.getByRole('button', { name: 'Close', exact: true }).click()
  await expect(left.getByRole('listitem').filter({ hasText: 'Go live' }).getByLabel('done')).toBeVisible()

  // A reader: lesson one is open, the second is locked until its day.
  const reader = await (await browser.newContext()).newPage()
  await signUp(reader, 'paring-leather', 'wilma@walk-sixteen.test', {
    firstName: 'Wilma',
    button: 'Begin with lesson one',
  })
  await expect(reader.getByRole('heading', { level: 1 })).toHaveText('Good to have you')
  await openMail(page, 'wilma@walk-sixteen.test', 'Lesson one is open')
  const mail = page.frameLocator('iframe')
  const href = async (name: string): Promise<string> =>
    (await mail.getByRole('link', { name }).getAttribute('href')) ?? ''
  await reader.goto(await href('Open lesson one'))
  await expect(reader.getByRole('heading', { level: 1 })).toHaveText('Lesson one')
  await expect(reader.locator('.lessons .locked').filter({ hasText: 'Lesson two' })).toBeVisible()
  await expect(reader.locator('.lessons li')).toHaveCount(4)
  await reader.getByRole('link', { name: 'On to lesson two' }).click()
  await expect(reader.getByText(/This lesson opens \w+day \d+ \w+/)).toBeVisible()

  // On its day the email comes: it opens lesson two, and leads back to the one before.
  const wilma = await rehearse(page, 'Wilma')
  await expect(journal(page)).toContainText('was sent “Paring leather: lesson one”')
  await page.getByRole('button', { name: 'Jump to next' }).click()
  await expect(journal(page)).toContainText('was sent “Paring leather: lesson two”')
  await openMail(page, 'wilma@walk-sixteen.test', 'Lesson two is open')
  await reader.goto(await href('Open lesson two'))
  await expect(reader.getByRole('heading', { level: 1 })).toHaveText('Lesson two')
  await expect(reader.getByText('In this course')).toBeVisible()
  await reader.goto(await href('Back to lesson one'))
  await expect(reader.getByRole('heading', { level: 1 })).toHaveText('Lesson one')

  // Who buys on the order page hears no more of the offer.
  await reader.goto('/p/paring-order')
  await sayWho(reader, 'Wilma', 'wilma@walk-sixteen.test')
  await pay(reader, 'Pay now')
  await expect(reader.getByText(/Thank you/)).toBeVisible()
  await reader.context().close()
  await page.goto(wilma)
  await expect(journal(page)).toContainText('left the follow-up “Paring leather: lessons and offer”')
})
