import { expect, test } from '@playwright/test'
import { pay, sayWho, visitorAt } from '../buying.ts'
import { choose, inspector, saved, withoutNotices } from '../editor.ts'
import { addAction, makeOrderPage, makePage, makeProduct, publishNow, writeHeading } from '../library.ts'
import { giveName, openMail, signIn } from '../marketer.ts'
import { goToPerson, journal } from '../rehearsing.ts'

test.beforeEach(({ page }) => withoutNotices(page))

test('a new buyer is thanked once: a tag starts two emails, a page and a part of it are for buyers alone', async ({
  page,
  browser,
}) => {
  const panel = inspector(page)
  await signIn(page, '/app/people/tags')
  await page.getByRole('button', { name: 'New tag' }).click()
  await giveName(page, 'Awl buyers')
  await page.getByRole('dialog').getByRole('button', { name: /tag$/ }).click()
  await expect(page.getByRole('row', { name: /Awl buyers/ })).toBeVisible()

  // The page that thanks has words for buyers, and others for who comes by; a second page is for them alone.
  await makePage(page, 'Awl thanks', 'thank-you page')
  await writeHeading(page, 'The awl is yours')
  await page
    .getByRole('button', { name: /^Add to/ })
    .first()
    .click()
  await page.getByRole('combobox', { name: 'What to add' }).fill('what was bought')
  await page.keyboard.press('Enter')
  await page.getByRole('navigation', { name: 'Outline' }).locator('[data-row]').nth(1).click()
  await panel.getByLabel('Show to some people only').check()
  await choose(panel, 'Condition', 'has the tag')
  await choose(panel, 'Tag', 'Awl buyers')
  await panel.getByRole('textbox', { name: 'Others see' }).fill('Nothing was bought here')
  await publishNow(page)
  await makePage(page, 'Awl care')
  await writeHeading(page, 'How to keep an awl sharp')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Page settings' }).click()
  await panel.getByLabel('Only for some people').check()
  await choose(panel, 'Condition', 'has the tag')
  await choose(panel, 'Tag', 'Awl buyers')
  await publishNow(page)

  // Buying puts on the tag.
  await makeProduct(page, 'Awl of pear wood')
  await panel.getByRole('textbox', { name: 'Description' }).fill('Turned here, sent by post.')
  await addAction(page, 'Put on a tag')
  await choose(panel, 'Tag', 'Awl buyers')
  await addAction(page, 'A page')
  await choose(panel, 'Page', 'Awl care')
  await choose(panel, 'After paying, buyers go to', 'A page')
  await panel.getByRole('combobox', { name: 'Page', exact: true }).last().fill('Awl thanks')
  await page.getByRole('option', { name: 'Awl thanks', exact: true }).click()
  await publishNow(page)
  await makeOrderPage(page, { name: 'Awl order', sells: 'Awl of pear wood', heading: 'An awl for years' })
  await panel.getByRole('textbox', { name: 'What they may agree to besides' }).fill('Write to me about tools')
  await publishNow(page)

  // The tag starts a follow-up: an email after a day, and one on the second day from the start.
  await page.goto('/app/follow-ups')
  await page.getByRole('button', { name: 'New follow-up' }).click()
  await giveName(page, 'Awl thanks')
  await page.getByRole('radio', { name: /^Nothing/ }).check()
  await page.getByRole('button', { name: 'Make follow-up' }).click()
  await page.getByRole('button', { name: 'Add a start' }).click()
  await choose(panel, 'What happens', 'gets a tag')
  await choose(panel, 'Tag', 'Awl buyers')
  const add = async (where: string, what: string): Promise<void> => {
    await page.getByRole('button', { name: where }).first().click()
    await page.getByRole('combobox', { name: 'What to add' }).fill(what)
    await page.keyboard.press('Enter')
  }
  await add('Add a step at the beginning of Everyone', 'some time')
  await panel.getByLabel('How long').fill('1')
  await add('Add a step after 1 day', 'send an email')
  await choose(panel, 'Email', 'The one tool')
  await add('Add a step after “The one tool”', 'day after the start')
  await panel.getByLabel('Day', { exact: true }).fill('2')
  await add('Add a step after until day 2, 09:00', 'send an email')
  await choose(panel, 'Email', 'A question from Mara')
  await saved(page)
  const followup = page.url()

  // The email is sent as a test first.
  await page.goto('/app/library/emails')
  await page.getByRole('textbox', { name: /^Search/ }).fill('The one tool')
  await page.getByRole('link', { name: 'The one tool', exact: true }).click()
  await page.getByRole('button', { name: 'Send a test' }).click()
  await page.getByRole('button', { name: 'Send test', exact: true }).click()
  await expect(page.getByText('On its way, with “[Test]” before the subject.')).toBeVisible()

  // Nothing goes while the follow-up is a draft; a filled cart starts nothing either.
  const early = await visitorAt(browser, '/p/awl-order')
  await sayWho(early, 'Dagny', 'dagny@walk-two.test')
  await pay(early, 'Pay now')
  await expect(early.getByText('The awl is yours')).toBeVisible()
  await early.context().close()
  await page.goto(followup)
  await page.getByRole('button', { name: 'Go live' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Go live' }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()

  const buyer = await visitorAt(browser, '/p/awl-thanks')
  await expect(buyer.getByText('Nothing was bought here')).toBeVisible()
  await buyer.goto('/p/awl-order')
  await buyer.getByLabel('Write to me about tools').check()
  await sayWho(buyer, 'Eivor', 'eivor@walk-two.test')
  await goToPerson(page, 'Eivor')
  const person = page.url()
  await expect(page.getByRole('region', { name: 'Profile' })).not.toContainText('Awl buyers')
  await pay(buyer, 'Pay now')
  await expect(buyer.getByRole('heading', { level: 1 })).toHaveText('The awl is yours')
  await expect(buyer.getByText('Eivor')).toBeVisible()
  await expect(buyer.getByText('Awl of pear wood', { exact: true })).toBeVisible()
  await buyer.getByRole('link', { name: 'Open Awl of pear wood' }).click()
  await expect(buyer.getByText('How to keep an awl sharp')).toBeVisible()
  await openMail(page, 'eivor@walk-two.test', 'Your order: Awl of pear wood')

  // A second purchase starts nothing more.
  await buyer.goto('/p/awl-order')
  await sayWho(buyer, 'Eivor', 'eivor@walk-two.test')
  await pay(buyer, 'Pay now')
  await expect(buyer.getByText('You paid €10.')).toBeVisible()
  await buyer.goto('/p/awl-care')
  await expect(buyer.getByText('This page is for our readers.')).toBeVisible()
  await buyer.context().close()
  await page.goto(person)
  await page.getByRole('button', { name: 'Mark as rehearsal' }).click()
  await expect(journal(page).getByText('entered the follow-up “Awl thanks”')).toHaveCount(1)
  await expect(journal(page).getByText('bought “Awl of pear wood”')).toHaveCount(2)
  const next = page.getByRole('button', { name: 'Jump to next' })
  for (const email of ['The one tool', 'A question from Mara'])
    await expect(async () => {
      if (!(await journal(page).innerText()).includes(`was sent “${email}”`)) await next.click()
      await expect(journal(page).getByText(`was sent “${email}”`)).toHaveCount(1, { timeout: 2_000 })
    }).toPass({ timeout: 60_000 })
  await goToPerson(page, 'Dagny')
  await expect(journal(page)).toContainText('got the tag “Awl buyers”')
  await expect(journal(page)).not.toContainText('entered the follow-up “Awl thanks”')
})
