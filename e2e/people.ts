import { expect, test, type Locator, type Page } from '@playwright/test'
import { fillFirst, giveName, signIn } from './marketer.ts'
import { journal } from './rehearsing.ts'

const search = (page: Page) => page.getByRole('textbox', { name: 'Search by name or address' })

/** Chooses in a list that opens. */
async function choose(page: Page, within: Locator, label: string, title: string | RegExp): Promise<void> {
  // The whole field opens it: what is chosen lies over the input.
  const field = within.locator('.v-input').filter({ has: page.getByLabel(label, { exact: true }) })
  // Of a long list only the part around what is chosen is drawn: one types what one looks for.
  const input = field.locator('input[role="combobox"]')
  const isTyped = (await input.getAttribute('inputmode')) !== 'none'
  const option = page.getByRole('option', { name: title }).first()
  // A notice that comes in above moves the field, and its list closes: one opens it again.
  await expect(async () => {
    await field.click()
    if (isTyped && typeof title === 'string') await input.fill(title)
    await option.click({ timeout: 3_000 })
    // What is pressed next must find it chosen.
    if (!isTyped) await expect(field).toContainText(title, { timeout: 3_000 })
  }).toPass()
}

/** Types one of several values, which becomes a chip. */
async function addChip(within: Locator, label: string, value: string): Promise<void> {
  await within.getByLabel(label, { exact: true }).fill(value)
  await within.getByLabel(label, { exact: true }).press('Enter')
  // On to the next field: the list closes.
  await within.getByLabel(label, { exact: true }).press('Tab')
}

/** Adds a person by hand and stays on their screen. */
async function add(page: Page, address: string, firstName: string, tag = ''): Promise<void> {
  await page.goto('/app/people')
  await page.getByRole('button', { name: 'Add person' }).click()
  const dialog = page.getByRole('dialog')
  await fillFirst(dialog.getByLabel('Email address'), address)
  await dialog.getByLabel('First name').fill(firstName)
  await dialog.getByLabel('How they agreed').fill('Told me so at the spring fair')
  if (tag !== '') await addChip(dialog, 'Tags', tag)
  await dialog.getByRole('button', { name: 'Add person' }).click()
  await expect(page.getByRole('heading', { name: firstName, level: 1 })).toBeVisible()
}

test('a person is added, edited, tagged, merged with their other self, and erased', async ({ page }) => {
  await signIn(page)
  await add(page, 'quentin@byhand.test', 'Quentin', 'Fair guest')
  const facts = page.getByRole('region', { name: 'Profile' })
  await expect(facts).toContainText('Fair guest')
  await expect(facts).toContainText('subscribed')

  await page.getByRole('button', { name: 'Edit', exact: true }).click()
  await page.getByLabel('Phone, with country code').fill('12')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('dialog')).toContainText('Start with + and the country code')
  await page.getByLabel('Phone, with country code').fill('+353 1 234 5678')
  await choose(page, page.getByRole('dialog'), 'Favourite binding', 'Coptic')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(facts).toContainText('+35312345678')
  await expect(facts).toContainText('Coptic')

  await facts.getByLabel('Add tag').fill('Sews at night')
  await page.keyboard.press('Enter')
  await expect(facts).toContainText('Sews at night')
  await facts.getByRole('button', { name: 'Remove tag Fair guest' }).click()
  await expect(journal(page)).toContainText('lost the tag “Fair guest” by Mara Ellery')

  await add(page, 'q.bracken@byhand.test', 'Quin')
  await page.getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: 'Merge with another person' }).click()
  await page.getByLabel('Other person', { exact: true }).fill('quentin@byhand')
  await page.getByRole('option', { name: /quentin@byhand/ }).click()
  await page.getByRole('button', { name: 'Merge', exact: true }).click()
  await expect(facts).toContainText('also quentin@byhand.test')
  await expect(journal(page)).toContainText('lost the tag “Fair guest”')

  await page.getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: 'Erase' }).click()
  await page.getByRole('button', { name: 'Erase permanently' }).click()
  await search(page).fill('byhand')
  await expect(page.getByText('No results.')).toBeVisible()
})

test('a condition is written by keyboard alone, counted as it is typed, explained, saved and used', async ({
  page,
}) => {
  await signIn(page, '/app/people')
  await page.getByRole('button', { name: 'Filter', exact: true }).focus()
  await page.keyboard.press('Enter')
  const builder = page.getByRole('region', { name: 'Filter' })
  const count = builder.locator('.count')
  const counted = async (): Promise<number> =>
    Number((await count.innerText()).replace(/ people[^]*/, '').replace(',', ''))
  await expect(count).toContainText(/2,4\d\d people/)
  const everybody = await counted()

  // A first line is ready: the keyboard chooses what it is about, and stands on it.
  await builder.getByLabel('Condition').focus()
  await page.keyboard.type('has the tag')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(builder.getByLabel('Condition')).toBeFocused()
  await expect.poll(counted).toBeLessThan(everybody)
  const offered = await counted()
  await choose(page, builder, 'Tag', 'Buyer')
  await expect.poll(counted).toBeLessThan(offered)
  const buyers = await counted()

  await builder.getByRole('button', { name: 'Negate line 1' }).focus()
  await page.keyboard.press('Space')
  await expect(builder).toContainText('does not have the tag')
  // Other tests add people meanwhile, and have some of them buy.
  const about = (people: number): Promise<void> =>
    expect.poll(async () => Math.abs((await counted()) - people)).toBeLessThan(20)
  await about(everybody - buyers)
  await page.keyboard.press('Space')
  await about(buyers)

  await builder.getByRole('button', { name: 'Add group' }).click()
  await builder.getByLabel('Condition').nth(1).fill('clicked in')
  await page.getByRole('option', { name: 'clicked in', exact: true }).click()
  await builder.getByLabel('Times').fill('2')
  await page.keyboard.press('Tab')
  await expect.poll(counted).toBeLessThan(buyers)

  // The examples may still be those of the condition before.
  await expect(async () => {
    await builder.getByRole('group', { name: 'Examples' }).getByRole('button').first().click()
    await expect(builder.getByRole('status')).toContainText(/matches.*has the tag “Buyer”: yes/, {
      timeout: 1_000,
    })
  }).toPass()

  await builder.getByRole('button', { name: 'Save as segment' }).click()
  await giveName(page, 'Buyers who click')
  await page.getByRole('button', { name: 'Save segment' }).click()
  await expect(page).toHaveURL(/segment=\d+/)
  await page.getByRole('tab', { name: 'Segments' }).click()
  await expect(page.getByRole('row', { name: /Buyers who click/ })).toContainText(
    'has the tag “Buyer” and (clicked in any email at least 2 times)',
  )

  // Used in a bulk action, with its progress, and broken when its tag goes.
  await page.getByRole('link', { name: 'Buyers who click' }).click()
  await page.getByRole('button', { name: 'Actions' }).click()
  await page.getByRole('menuitem', { name: /Add a tag to/ }).click()
  await page.getByRole('dialog').getByLabel('Tag').fill('Short-lived')
  await page.getByRole('button', { name: /Apply to/ }).click()
  await expect(page.getByRole('region', { name: 'Long work' })).toContainText(/Done for \d+ people/)
})

test('an email goes to a segment: who gets it is said before, and each of them can be told why', async ({
  page,
}) => {
  await signIn(page, '/app/people/segments')
  await page.getByRole('link', { name: 'Buyers who click' }).click()
  await page.getByRole('button', { name: 'Actions' }).click()
  await page.getByRole('menuitem', { name: /Send an email to \d+ people/ }).click()
  await expect(page).toHaveURL(/broadcasts\/new/)
  await expect(page.getByText(/\d+ (people|person) chosen in People/)).toBeVisible()
  await choose(page, page.locator('form'), 'Email', 'Sunday, live')
  await choose(page, page.locator('form'), 'Topic', /Session news/)
  const forecast = page.getByRole('complementary', { name: 'Who gets it' })
  await expect(forecast.getByRole('status')).toContainText('did not agree to the topic')
  const told = await forecast.getByRole('status').innerText()
  await forecast.getByRole('button', { name: 'Show ten of them' }).click()
  await expect(forecast.getByRole('listitem').last()).toContainText('needle')
  await page.getByRole('button', { name: /^Send to/ }).click()

  // There is a minute in which it can be called back, unless one is sure.
  await expect(page.getByRole('timer')).toContainText(/Goes out in \d+ s/)
  await page.getByRole('button', { name: 'Send at once' }).click()
  await expect(page.getByText('sent', { exact: true })).toBeVisible()
  // Some address may bounce meanwhile: each of them was written to, or is told as rejected.
  const number = async (name: string): Promise<number> =>
    Number(
      await page
        .locator('dl div', { has: page.getByText(name, { exact: true }) })
        .locator('dd')
        .first()
        .innerText(),
    )
  await expect
    .poll(async () => (await number('Sent')) + (await number('Held back')) + (await number('Rejected')))
    .toBe(Number.parseInt(told))
  await page.goto('/app/outbox/broadcasts')
  await expect(page.getByRole('row', { name: /Sunday, live/ })).toContainText('has the tag “Buyer”')

  await page.goto('/app/outbox/inbox')
  await page
    .getByRole('link', { name: /bring a needle/ })
    .first()
    .click()
  const address = (await page.getByText(/^From .* to/).innerText()).replace(/^.* /, '')
  await page.goto('/app/people')
  await search(page).fill(address)
  await page.getByRole('row', { name: address }).getByRole('link').click()
  await expect(journal(page)).toContainText('was sent “Sunday, live”')
  await expect(journal(page)).toContainText(
    'broadcast by Mara Ellery to everybody, narrowed down to: has the tag',
  )
})

test('a tag that is deleted breaks what speaks of it, and says so', async ({ page }) => {
  await signIn(page, '/app/people')
  await page.getByRole('button', { name: 'Filter', exact: true }).click()
  const builder = page.getByRole('region', { name: 'Filter' })
  await builder.getByLabel('Condition').fill('has the tag')
  await page.getByRole('option', { name: 'has the tag', exact: true }).click()
  await choose(page, builder, 'Tag', 'Short-lived')
  await builder.getByRole('button', { name: 'Save as segment' }).click()
  await giveName(page, 'Soon broken')
  await page.getByRole('button', { name: 'Save segment' }).click()
  await page.getByRole('tab', { name: 'Tags' }).click()
  await page
    .getByRole('row', { name: /Short-lived/ })
    .getByRole('button', { name: 'Delete' })
    .click()
  await page.getByRole('button', { name: 'Delete tag' }).click()
  await page.getByRole('tab', { name: 'Segments' }).click()
  const row = page.getByRole('row', { name: /Soon broken/ })
  await expect(row).toContainText('broken')
  await expect(row).toContainText('Nobody can be counted until you fix it')
})

test('a list is imported: previewed, run, and undone', async ({ page }) => {
  await signIn(page, '/app/people/imports')
  const file = 'E-mail;Vorname;Land\nann@list.test;Ann;IE\nbob@list.test;Bob;GB\nno address;Cy;IE\n'
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'evening class.csv', mimeType: 'text/csv', buffer: Buffer.from(file) })
  await expect(page.getByText('evening class.csv')).toBeVisible()
  await expect(page.getByRole('row', { name: /Land/ })).toContainText('country')

  await page.getByLabel('They agreed to receive it').check()
  await page.getByRole('button', { name: 'Preview' }).click()
  await expect(page.getByText('Describe where and how they agreed')).toBeVisible()
  await page.getByLabel('Where and how').fill('Signed the sheet of the evening class')
  await addChip(page.getByRole('region', { name: 'Options' }), 'Add tags', 'Evening class')
  await page.getByRole('button', { name: 'Preview' }).click()
  const found = page.getByRole('region', { name: 'Preview' })
  await expect(found).toContainText('2new people')
  await expect(found).toContainText('“no address” is not an email address')

  await page.getByRole('button', { name: 'Add 2 new people' }).click()
  await expect(page.getByRole('button', { name: 'Undo import' })).toBeVisible()
  await page.getByRole('tab', { name: 'All people' }).click()
  await search(page).fill('list.test')
  await expect(page.getByRole('row', { name: /Bob/ })).toContainText('Evening class')

  await page.goBack()
  await page.getByRole('button', { name: 'Undo import' }).click()
  await expect(page.getByText('undone', { exact: true })).toBeVisible()
  await expect(page.getByRole('region', { name: 'Long work' })).toContainText('2 removed')
})

test('a list of people who refused stops their email, and is undone', async ({ page }) => {
  await signIn(page)
  await add(page, 'una@refused.test', 'Unafraid')
  await page.goto('/app/people/imports')
  await page.locator('input[type=file]').setInputFiles({
    name: 'unsubscribed elsewhere.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('email\nUna@refused.test\nnew@refused.test\n'),
  })
  await page.getByLabel('They refused: never email them').check()
  await expect(page.getByText('Start follow-ups')).toBeHidden()
  await page.getByLabel('Where and how').fill('Unsubscribed in the tool that we used before')
  await page.getByRole('button', { name: 'Preview' }).click()
  const found = page.getByRole('region', { name: 'Preview' })
  await expect(found).toContainText('1new people')
  await expect(found).toContainText('1updated')
  await page.getByRole('button', { name: /^Add 1 new p/ }).click()
  await expect(page.getByRole('button', { name: 'Undo import' })).toBeVisible()

  await page.getByRole('tab', { name: 'All people' }).click()
  await search(page).fill('refused.test')
  await expect(page.getByRole('row', { name: /una@refused/ })).toContainText('unsubscribed')
  await page.getByRole('link', { name: 'Unafraid' }).click()
  await expect(page.getByRole('region', { name: 'Profile' })).toContainText(
    'Unsubscribed in the tool that we used before',
  )
  await expect(journal(page)).toContainText('unsubscribed')

  await page.goto('/app/people/imports')
  await page.getByRole('link', { name: 'unsubscribed elsewhere.csv' }).click()
  await page.getByRole('button', { name: 'Undo import' }).click()
  await expect(page.getByText('undone', { exact: true })).toBeVisible()
  await page.getByRole('tab', { name: 'All people' }).click()
  await search(page).fill('refused.test')
  const rows = page.getByRole('row')
  await expect(rows.filter({ hasText: '@refused.test' })).toHaveCount(1)
  await expect(rows.filter({ hasText: 'una@refused.test' })).toContainText('subscribed')
})

test('a file that is no list is refused with what to do', async ({ page }) => {
  await signIn(page, '/app/people/imports')
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'x.xlsx', mimeType: 'application/zip', buffer: Buffer.from('504b030414', 'hex') })
  await expect(page.locator('.problem')).toContainText('Save or export it as CSV')
})

test('a scorecard is checked against what people did, learns points, and changes only when that is wished', async ({
  page,
}) => {
  await signIn(page, '/app/people/scorecards')
  await page.getByRole('link', { name: 'Interest' }).click()
  const check = page.getByRole('region', { name: 'Does the score predict anything?' })
  await check.getByRole('button', { name: 'Check' }).click()
  await expect(check.getByRole('row', { name: /Hot/ })).toContainText('%')
  await expect(check).toContainText(/Area under the curve: 0\.\d{3}/)

  await check.getByRole('button', { name: 'Suggest points' }).click()
  await expect(check.getByRole('heading', { name: 'Suggested points' })).toBeVisible()
  await expect(check).toContainText('With the suggested points: 0.')
  const save = page.getByRole('button', { name: 'Save changes' })
  await expect(save).toBeDisabled()
  await check.getByRole('button', { name: 'Use these points' }).click()
  await save.click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText(/people of 2,4\d\d change band/)
  await dialog.getByRole('button', { name: 'Save and recalculate' }).click()
  await expect(page.getByRole('region', { name: 'Long work' })).toContainText('Scores are up to date')
})

test('topics and own fields are created and edited', async ({ page }) => {
  await signIn(page, '/app/people/topics')
  await page.getByRole('button', { name: 'New topic' }).click()
  await page.getByLabel('Name').fill('Paper news')
  await page.getByLabel('What subscribers will get').fill('New papers in the shop.')
  await page.getByRole('dialog').getByRole('button', { name: 'Create topic' }).click()
  await expect(page.getByRole('row', { name: /Paper news/ })).toContainText('offered')

  await page.goto('/app/people/fields')
  await page.getByRole('button', { name: 'New field' }).click()
  await page.getByLabel('Name').fill('Tool')
  await choose(page, page.getByRole('dialog'), 'Type', 'one of several')
  await page.getByRole('dialog').getByRole('button', { name: 'Create field' }).click()
  await expect(page.getByRole('dialog')).toContainText('Add at least one option.')
  await page.getByLabel('Options, one per line').fill('Awl\nBone folder')
  await page.getByRole('dialog').getByRole('button', { name: 'Create field' }).click()
  await expect(page.getByRole('row', { name: /Tool/ })).toContainText('Awl, Bone folder')
})
