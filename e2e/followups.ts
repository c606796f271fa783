import { expect, test, type Locator, type Page } from '@playwright/test'
import { giveName, signIn } from './marketer.ts'

const inspector = (page: Page) => page.getByRole('complementary', { name: 'Inspector' })
const saved = (page: Page) => expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible()

async function add(page: Page, what: string): Promise<void> {
  await page.getByRole('combobox', { name: 'What to add' }).fill(what)
  await page.keyboard.press('Enter')
}

test('a follow-up is made from a starting point, changed on its timetable, checked, and goes live', async ({
  page,
}) => {
  await signIn(page, '/app/follow-ups')
  await page.getByRole('button', { name: 'New follow-up' }).click()
  await giveName(page, 'After the fair')
  await page.getByLabel('Welcome in three emails').check()
  await page.getByRole('button', { name: 'Make follow-up' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'After the fair' })).toBeVisible()

  // A step is put in on the track, by an insert line and a typed list.
  await page.getByRole('button', { name: 'Add a step after “After the fair: Welcome”' }).focus()
  await page.keyboard.press('Enter')
  await add(page, 'add a tag')
  await expect(page.getByRole('button', { name: /^Add the tag/ })).toBeVisible()
  await saved(page)

  // By keys: one place on, back by undo, a wait behind it, and another hour in its sentence.
  await page.keyboard.press('Alt+ArrowRight')
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Insert')
  await add(page, 'some time')
  await expect(inspector(page)).toContainText('Wait 2 days. Who comes to it')
  await inspector(page).getByLabel('How long').fill('5')
  await expect(inspector(page)).toContainText('Wait 5 days')
  await expect(page.getByRole('button', { name: 'Wait 5 days from the step before.' })).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('button', { name: 'Wait 2 days from the step before.' })).toHaveCount(2)

  // By mouse: the tag is dragged behind the first wait.
  const tag = page.getByRole('button', { name: /^Add the tag/ })
  const track = page.getByRole('group', { name: /^Timetable/ })
  await tag.dragTo(track.getByRole('button', { name: 'Add a step after 2 days' }).first())
  const leftOf = async (of: Locator): Promise<number> => (await of.boundingBox())?.x ?? 0
  const wait = page.getByRole('button', { name: 'Wait 2 days from the step before.' }).first()
  await expect.poll(async () => (await leftOf(tag)) > (await leftOf(wait))).toBe(true)
  await saved(page)

  // What its check finds leads to the step; emails with guidance in them are not ready.
  await page.getByRole('button', { name: /to fix/ }).click()
  await page.getByText(/The email “After the fair: Welcome” is not ready/).click()
  await expect(inspector(page)).toContainText('is not ready')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Go live' }).click()
  await expect(page.getByRole('dialog')).toContainText('It cannot go live yet')
  await page.getByRole('button', { name: 'Back to the timetable' }).click()

  // Emails that are live take their place.
  for (const step of ['Welcome', 'One thing that helps', 'May I ask you something?']) {
    await page.getByRole('button', { name: `Send the email “After the fair: ${step}”.` }).click()
    await inspector(page).getByRole('combobox', { name: 'Email' }).fill('The one tool')
    await page.getByRole('option', { name: 'The one tool', exact: true }).click()
  }
  await saved(page)
  await page.getByRole('button', { name: 'Go live' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('Nobody is inside yet')
  await dialog.getByRole('button', { name: 'Go live' }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()
})

test('somebody in a follow-up is moved on by hand, and the journal says who did it', async ({ page }) => {
  await signIn(page, '/app/follow-ups')
  await page.getByRole('link', { name: 'Template pack' }).click()
  await page
    .getByRole('navigation', { name: 'Parts of this follow-up' })
    .getByRole('tab', { name: 'People' })
    .click()
  const row = page.getByRole('row').nth(1)
  const name = await row.getByRole('link').innerText()
  await row.getByRole('checkbox').check()
  await page.getByRole('button', { name: 'Take out' }).click()
  await expect(page.getByRole('status').filter({ hasText: '1 person taken out' })).toBeVisible()
  await page
    .getByRole('navigation', { name: 'Parts of this follow-up' })
    .getByRole('tab', { name: 'Journal' })
    .click()
  await expect(page.getByText('taken out by Mara Ellery')).toBeVisible()
  await expect(page.getByRole('link', { name }).first()).toBeVisible()
})

test('a rehearsal shows the other lane as soon as somebody behaves otherwise, and everything at once', async ({
  page,
}) => {
  await signIn(page, '/app/follow-ups/1/rehearsal')
  const list = page.getByRole('list', { name: 'What happens, in order' })
  await expect(list).toContainText('gets “Stitch along on Sunday”')
  await page.getByRole('combobox', { name: 'Somebody who' }).press('ArrowDown')
  await page.getByRole('option', { name: /Chiyo Larsen/ }).click()
  await expect(list).toContainText('gets “Did you find it?”')
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Calendar' }).click(),
  ])
  expect(file.suggestedFilename()).toBe('Template pack.ics')
  await page.getByRole('button', { name: 'Forecast' }).first().click()
  await page.getByLabel('People').fill('200')
  await page.getByRole('button', { name: 'Forecast' }).last().click()
  await expect(page.getByText(/The busiest day is/)).toBeVisible()
})
