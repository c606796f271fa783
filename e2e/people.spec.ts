import { expect, test, type Page } from '@playwright/test'
import { signIn } from './marketer.ts'

const journal = (page: Page) => page.getByRole('list', { name: 'Journal, newest first' })

/** Adds a person by hand and stays on their screen. */
async function add(page: Page, address: string, firstName: string, tags = ''): Promise<void> {
  await page.goto('/app/people')
  await page.getByRole('button', { name: 'Add a person' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Email address').fill(address)
  await dialog.getByLabel('First name').fill(firstName)
  await dialog.getByLabel('How they agreed').fill('Told me so at the spring fair')
  await dialog.getByLabel('Tags, with commas').fill(tags)
  await dialog.getByRole('button', { name: 'Add the person' }).click()
  await expect(page.getByRole('heading', { name: firstName, level: 1 })).toBeVisible()
}

test('a person is added, changed, tagged, merged with their other self, and erased', async ({ page }) => {
  await signIn(page)
  await add(page, 'quentin@byhand.test', 'Quentin', 'Fair guest')
  const facts = page.getByRole('region', { name: 'Who they are' })
  await expect(facts).toContainText('Fair guest')
  await expect(facts).toContainText('subscribed')

  await page.getByRole('button', { name: 'Change', exact: true }).click()
  await page.getByLabel('Phone, with +country').fill('12')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('dialog')).toContainText('Begin with + and the country')
  await page.getByLabel('Phone, with +country').fill('+353 1 234 5678')
  await page.getByLabel('Favourite binding').selectOption('Coptic')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(facts).toContainText('+35312345678')
  await expect(facts).toContainText('Coptic')

  await facts.getByLabel('Add a tag').fill('Sews at night')
  await page.keyboard.press('Enter')
  await expect(facts).toContainText('Sews at night')
  await facts.getByRole('button', { name: 'Take off the tag Fair guest' }).click()
  await expect(journal(page)).toContainText('lost the tag “Fair guest” by Mara Ellery')

  await add(page, 'q.bracken@byhand.test', 'Quin')
  await page.getByRole('button', { name: 'More…' }).click()
  await page.getByRole('menuitem', { name: 'Merge with somebody' }).click()
  await page.getByLabel('Who is the same person?').fill('quentin@byhand')
  await page.getByRole('radio').check()
  await page.getByRole('button', { name: 'Make one person of the two' }).click()
  await expect(facts).toContainText('also quentin@byhand.test')
  await expect(journal(page)).toContainText('lost the tag “Fair guest”')

  await page.getByRole('button', { name: 'More…' }).click()
  await page.getByRole('menuitem', { name: 'Erase' }).click()
  await page.getByRole('button', { name: 'Erase for good' }).click()
  await page.getByRole('textbox', { name: 'Part of a name or address' }).fill('byhand')
  await expect(page.getByText('Nobody matches.')).toBeVisible()
})

test('a condition is written by keyboard alone, counted as it is typed, explained, saved and used', async ({
  page,
}) => {
  await signIn(page, '/app/people')
  await page.getByRole('button', { name: 'Narrow down', exact: true }).focus()
  await page.keyboard.press('Enter')
  const builder = page.getByRole('region', { name: 'Who is meant' })
  const count = builder.locator('.count')
  const counted = async (): Promise<number> =>
    Number((await count.innerText()).replace(/ people[^]*/, '').replace(',', ''))
  await expect(count).toContainText(/2,4\d\d people/)
  const everybody = await counted()

  await builder.getByRole('button', { name: 'Narrow down' }).focus()
  await page.keyboard.press('Enter')
  // The keyboard stands on the new line; typing chooses.
  await expect(builder.getByLabel('What the line is about')).toBeFocused()
  await page.keyboard.type('has the tag')
  await builder.getByLabel('Which of the tags').selectOption('Buyer')
  await expect.poll(counted).toBeLessThan(everybody)
  const buyers = await counted()

  await builder.getByRole('button', { name: 'Line 1: say the opposite' }).focus()
  await page.keyboard.press('Space')
  await expect(builder.getByLabel('What the line is about')).toContainText('does not have the tag')
  await expect.poll(counted).toBe(everybody - buyers)
  await page.keyboard.press('Space')
  await expect.poll(counted).toBe(buyers)

  await builder.getByRole('button', { name: 'Add a group' }).click()
  await builder.getByLabel('What the line is about').nth(1).selectOption('clicked in')
  await builder.getByLabel('Times').fill('2')
  await page.keyboard.press('Tab')
  await expect.poll(counted).toBeLessThan(buyers)

  await builder.getByRole('list', { name: 'Ten of them' }).getByRole('button').first().click()
  await expect(builder.getByRole('status')).toContainText(/is meant.*has the tag “Buyer”: yes/)

  await builder.getByRole('button', { name: 'Save as segment' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Buyers who click')
  await page.getByRole('button', { name: 'Save the segment' }).click()
  await expect(page).toHaveURL(/segment=\d+/)
  await page.getByRole('link', { name: 'Segments' }).click()
  await expect(page.getByRole('row', { name: /Buyers who click/ })).toContainText(
    'has the tag “Buyer” and (clicked in any email at least 2 times)',
  )

  // Used in a bulk action, with its progress, and broken when its tag goes.
  await page.getByRole('link', { name: 'Buyers who click' }).click()
  await page.getByRole('button', { name: 'With these…' }).click()
  await page.getByRole('menuitem', { name: /Put a tag on/ }).click()
  await page.getByRole('combobox', { name: 'Tag', exact: true }).fill('Short-lived')
  await page.getByRole('button', { name: /Do it for/ }).click()
  await expect(page.getByRole('region', { name: 'Long work' })).toContainText(/Done for \d+ people/)
})

test('an email goes to a segment: who gets it is said before, and each of them can be told why', async ({
  page,
}) => {
  await signIn(page, '/app/people/segments')
  await page.getByRole('link', { name: 'Buyers who click' }).click()
  await page.getByRole('button', { name: 'With these…' }).click()
  await page.getByRole('menuitem', { name: /Send an email to \d+ people/ }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('combobox', { name: 'Email', exact: true }).selectOption('Sunday, live')
  await dialog
    .getByRole('combobox', { name: 'What it is about' })
    .selectOption({ label: 'Session news: only who agreed to it' })
  await expect(dialog.getByRole('status')).toContainText('did not agree to the topic')
  const told = await dialog.getByRole('status').innerText()
  await dialog.getByRole('button', { name: /^Send it to/ }).click()

  await page.goto('/app/outbox/broadcasts')
  const row = page.getByRole('row', { name: /Sunday, live/ })
  await expect(row).toContainText('has the tag “Buyer”')
  await expect(row.getByText('out', { exact: true })).toBeVisible()
  const sent = await row.getByRole('cell').nth(4).innerText()
  expect(told).toContain(`${sent} people`)

  await page.goto('/app/outbox/inbox')
  await page
    .getByRole('link', { name: /bring a needle/ })
    .first()
    .click()
  const address = (await page.getByText(/^From .* to/).innerText()).replace(/^.* /, '')
  await page.goto('/app/people')
  await page.getByRole('textbox', { name: 'Part of a name or address' }).fill(address)
  await page.getByRole('row', { name: address }).getByRole('link').click()
  await expect(journal(page)).toContainText('was sent “Sunday, live”')
  await expect(journal(page)).toContainText(
    'broadcast by Mara Ellery to everybody, narrowed down to: has the tag',
  )
})

test('a tag that is deleted breaks what speaks of it, and says so', async ({ page }) => {
  await signIn(page, '/app/people')
  await page.getByRole('button', { name: 'Narrow down', exact: true }).click()
  const builder = page.getByRole('region', { name: 'Who is meant' })
  await builder.getByRole('button', { name: 'Narrow down' }).click()
  await builder.getByLabel('Which of the tags').selectOption('Short-lived')
  await builder.getByRole('button', { name: 'Save as segment' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Soon broken')
  await page.getByRole('button', { name: 'Save the segment' }).click()
  await page.getByRole('link', { name: 'Tags' }).click()
  await page
    .getByRole('row', { name: /Short-lived/ })
    .getByRole('button', { name: 'Delete' })
    .click()
  await page.getByRole('button', { name: 'Delete the tag' }).click()
  await page.getByRole('link', { name: 'Segments' }).click()
  const row = page.getByRole('row', { name: /Soon broken/ })
  await expect(row).toContainText('broken')
  await expect(row).toContainText('nobody can tell who is meant until it is mended')
})

test('a list is imported: seen before it is written, written, and taken back', async ({ page }) => {
  await signIn(page, '/app/people/imports')
  const file = 'E-mail;Vorname;Land\nann@list.test;Ann;IE\nbob@list.test;Bob;GB\nno address;Cy;IE\n'
  await page
    .getByLabel('Choose a file')
    .setInputFiles({ name: 'evening class.csv', mimeType: 'text/csv', buffer: Buffer.from(file) })
  await expect(page.getByText('evening class.csv')).toBeVisible()
  await expect(page.getByLabel('What the column Land holds')).toHaveValue('builtIn country')

  await page.getByLabel('They agreed to be written to').check()
  await page.getByRole('button', { name: 'Try it out' }).click()
  await expect(page.getByText('Say where and how they agreed')).toBeVisible()
  await page.getByLabel('Where and how').fill('Signed the sheet of the evening class')
  await page.getByLabel('Tags to add').fill('Evening class')
  await page.getByRole('button', { name: 'Try it out' }).click()
  const found = page.getByRole('region', { name: 'What would happen' })
  await expect(found).toContainText('2new on the list')
  await expect(found).toContainText('“no address” is no email address')

  await page.getByRole('button', { name: 'Put 2 new people on the list' }).click()
  await expect(page.getByRole('button', { name: 'Take this import back' })).toBeVisible()
  await page.getByRole('link', { name: 'Everybody' }).click()
  await page.getByRole('textbox', { name: 'Part of a name or address' }).fill('list.test')
  await expect(page.getByRole('row', { name: /Bob/ })).toContainText('Evening class')

  await page.goBack()
  await page.getByRole('button', { name: 'Take this import back' }).click()
  await expect(page.getByText('taken back', { exact: true })).toBeVisible()
  await expect(page.getByRole('region', { name: 'Long work' })).toContainText(
    '2 people were taken off the list again',
  )
})

test('a list of people who refused takes them off the mail, and is taken back', async ({ page }) => {
  await signIn(page)
  await add(page, 'una@refused.test', 'Unafraid')
  await page.goto('/app/people/imports')
  await page.getByLabel('Choose a file').setInputFiles({
    name: 'unsubscribed elsewhere.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('email\nUna@refused.test\nnew@refused.test\n'),
  })
  await page.getByLabel('They said no: never write to them again').check()
  await expect(page.getByText('Start the follow-ups')).toBeHidden()
  await page.getByLabel('Where and how').fill('Unsubscribed in the tool that we used before')
  await page.getByRole('button', { name: 'Try it out' }).click()
  const found = page.getByRole('region', { name: 'What would happen' })
  await expect(found).toContainText('1new on the list')
  await expect(found).toContainText('1changed')
  await page.getByRole('button', { name: /^Put 1 new p/ }).click()
  await expect(page.getByRole('button', { name: 'Take this import back' })).toBeVisible()

  await page.getByRole('link', { name: 'Everybody' }).click()
  await page.getByRole('textbox', { name: 'Part of a name or address' }).fill('refused.test')
  await expect(page.getByRole('row', { name: /una@refused/ })).toContainText('unsubscribed')
  await page.getByRole('link', { name: 'Unafraid' }).click()
  await expect(page.getByRole('region', { name: 'Who they are' })).toContainText(
    'Unsubscribed in the tool that we used before',
  )
  await expect(journal(page)).toContainText('unsubscribed')

  await page.goto('/app/people/imports')
  await page.getByRole('link', { name: 'unsubscribed elsewhere.csv' }).click()
  await page.getByRole('button', { name: 'Take this import back' }).click()
  await expect(page.getByText('taken back', { exact: true })).toBeVisible()
  await page.getByRole('link', { name: 'Everybody' }).click()
  await page.getByRole('textbox', { name: 'Part of a name or address' }).fill('refused.test')
  const rows = page.getByRole('region', { name: 'People' }).getByRole('row')
  await expect(rows.filter({ hasText: '@refused.test' })).toHaveCount(1)
  await expect(rows.filter({ hasText: 'una@refused.test' })).toContainText('subscribed')
})

test('a file that is no list is refused with what to do', async ({ page }) => {
  await signIn(page, '/app/people/imports')
  await page
    .getByLabel('Choose a file')
    .setInputFiles({ name: 'x.xlsx', mimeType: 'application/zip', buffer: Buffer.from('504b030414', 'hex') })
  await expect(page.getByRole('alert')).toContainText('save or export it as CSV')
})

test('a scorecard is checked against what people did, learns points, and changes only when that is wished', async ({
  page,
}) => {
  await signIn(page, '/app/people/scorecards')
  await page.getByRole('link', { name: 'Interest' }).click()
  const check = page.getByRole('region', { name: 'Does the score mean anything?' })
  await check.getByRole('button', { name: 'Check' }).click()
  await expect(check.getByRole('row', { name: /Hot/ })).toContainText('%')
  await expect(check).toContainText(/Area under the curve: 0\.\d{3}/)

  await check.getByRole('button', { name: 'Suggest points' }).click()
  await expect(check.getByRole('heading', { name: 'Suggested points' })).toBeVisible()
  await expect(check).toContainText('With the suggested points: 0.')
  const save = page.getByRole('button', { name: 'Change the rules' }).first()
  await expect(save).toBeDisabled()
  await check.getByRole('button', { name: 'Put these points into the rules' }).click()
  await save.click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText(/people of 2,4\d\d come into another band/)
  await dialog.getByRole('button', { name: 'Change the rules' }).click()
  await expect(page.getByRole('region', { name: 'Long work' })).toContainText(
    'Everybody’s score stands by the new rules',
  )
})

test('topics and own fields are made and changed', async ({ page }) => {
  await signIn(page, '/app/people/topics')
  await page.getByRole('button', { name: 'Make a topic' }).click()
  await page.getByLabel('Name').fill('Paper news')
  await page.getByLabel('What they will get').fill('New papers in the shop.')
  await page.getByRole('dialog').getByRole('button', { name: 'Make the topic' }).click()
  await expect(page.getByRole('row', { name: /Paper news/ })).toContainText('offered')

  await page.goto('/app/people/fields')
  await page.getByRole('button', { name: 'Make a field' }).click()
  await page.getByLabel('Name').fill('Tool')
  await page.getByLabel('Kind').selectOption('one of several')
  await page.getByRole('dialog').getByRole('button', { name: 'Make the field' }).click()
  await expect(page.getByRole('alert')).toContainText('A choice needs something to choose from')
  await page.getByLabel('Choices, one a line').fill('Awl\nBone folder')
  await page.getByRole('dialog').getByRole('button', { name: 'Make the field' }).click()
  await expect(page.getByRole('row', { name: /Tool/ })).toContainText('Awl, Bone folder')
})
