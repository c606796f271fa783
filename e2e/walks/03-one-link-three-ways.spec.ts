import { expect, test, type Page } from '@playwright/test'
import { choose, inspector, saved, withoutNotices } from '../editor.ts'
import { fillFirst, giveName, signIn } from '../marketer.ts'

test.beforeEach(({ page }) => withoutNotices(page))

/** Says that a rule asks for a tag, or for its absence. */
async function asksForTag(page: Page, line: number, tag: string, absent: boolean): Promise<void> {
  // A line more begins with a tag.
  if (line > 0) await inspector(page).getByRole('button', { name: 'Add condition' }).click()
  else await choose(inspector(page), 'Condition', 'has the tag')
  await choose(inspector(page), 'Tag', tag, line)
  if (absent)
    await inspector(page)
      .getByRole('button', { name: `Negate line ${line + 1}` })
      .click()
}

async function leadsTo(page: Page, title: string): Promise<void> {
  await inspector(page).getByRole('combobox', { name: 'Sends them to' }).press('ArrowDown')
  await page.getByRole('option', { name: 'A page', exact: true }).click()
  await choose(inspector(page), 'Page', title)
}

/** Puts tags on somebody in rehearsal. */
async function addTag(page: Page, name: string, ...tags: string[]): Promise<void> {
  await page.getByRole('banner').getByRole('button', { name: 'Rehearsal' }).click()
  await page.getByRole('menuitem', { name: new RegExp(name) }).click()
  await page
    .getByRole('main')
    .getByRole('link', { name: new RegExp(`^${name}`) })
    .click()
  const facts = page.getByRole('region', { name: 'Profile' })
  for (const tag of tags) {
    await facts.getByLabel('Add tag').fill(tag)
    await page.keyboard.press('Enter')
    await expect(facts).toContainText(tag)
  }
}

test('one link for three sorts of people: after a form, by another order, and in an email', async ({
  page,
  browser,
}) => {
  await signIn(page, '/app/library/junctions')
  await page.getByRole('button', { name: 'New junction' }).click()
  await giveName(page, 'Three ways on')
  await page.getByRole('button', { name: 'Make junction' }).click()

  const rules = page.getByRole('region', { name: 'Rules' })
  const atEnd = rules.getByRole('button', { name: 'Add a rule at the end' })
  await atEnd.click()
  await asksForTag(page, 0, 'Journal buyer', true)
  await asksForTag(page, 1, 'Circle member', true)
  await leadsTo(page, 'Bind Your First Journal')
  await atEnd.click()
  await asksForTag(page, 0, 'Journal buyer', false)
  await asksForTag(page, 1, 'Circle member', true)
  await leadsTo(page, 'Bindery Circle')
  await atEnd.click()
  await asksForTag(page, 0, 'Journal buyer', false)
  await asksForTag(page, 1, 'Circle member', false)
  await inspector(page).getByRole('combobox', { name: 'And or or' }).press('ArrowDown')
  await page.getByRole('option', { name: 'or', exact: true }).click()
  await leadsTo(page, 'Template pack: thank you')
  await rules.locator('[data-row="-"]').click()
  await leadsTo(page, 'Bindery letter')
  await saved(page)
  await expect(rules).toContainText('Nobody who is known: the rules take everybody')

  // Tried as three people in rehearsal; another order of the rules is another answer.
  await addTag(page, 'Bram', 'Journal buyer')
  await addTag(page, 'Chiyo', 'Journal buyer', 'Circle member')
  await page.goto('/app/library/junctions')
  await page.getByRole('link', { name: 'Three ways on' }).click()
  const trial = page.getByRole('region', { name: 'Try it' })
  const tryAs = async (name: string): Promise<void> => {
    await trial.getByRole('combobox', { name: 'Person' }).fill(name)
    await page.getByRole('option', { name: new RegExp(`${name}.*rehearsal`) }).click()
  }
  await tryAs('Ada')
  await expect(trial.getByRole('status')).toContainText(
    'Rule 1 sends them to the page “Bind Your First Journal”',
  )
  await tryAs('Chiyo')
  await expect(trial.getByRole('status')).toContainText(
    'Rule 3 sends them to the page “Template pack: thank you”',
  )
  await tryAs('Bram')
  await expect(trial.getByRole('status')).toContainText('Rule 2 sends them to the page “Bindery Circle”')
  await rules.getByText('3', { exact: true }).dragTo(rules.getByText('2', { exact: true }))
  await expect(trial.getByRole('status')).toContainText(
    'Rule 2 sends them to the page “Template pack: thank you”',
  )
  await expect(rules).toContainText('Nobody gets here: rule 2')
  await expect(page.getByRole('button', { name: 'Publish', exact: true })).toBeDisabled()
  // Back by the keyboard.
  await rules.locator('[data-row]').nth(1).press('Alt+ArrowDown')
  await expect(trial.getByRole('status')).toContainText('Rule 2 sends them to the page “Bindery Circle”')
  await expect(rules).not.toContainText('Nobody gets here')
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()

  // After a form: each of the three sends it, and sees the page that fits.
  await page.goto('/app/library/forms')
  await page.getByRole('button', { name: 'New form' }).click()
  await giveName(page, 'Three ways form')
  await page.getByRole('button', { name: 'Make form' }).click()
  await inspector(page).getByRole('combobox', { name: 'After sending' }).press('ArrowDown')
  await page.getByRole('option', { name: 'Another page, a file or an address' }).click()
  await inspector(page).getByRole('combobox', { name: 'Leads to' }).press('ArrowDown')
  await page.getByRole('option', { name: 'A junction', exact: true }).click()
  await choose(inspector(page), 'Junction', 'Three ways on')
  await saved(page)
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()
  for (const [name, heading] of [
    ['Ada', 'Bind your first journal'],
    ['Bram', 'Keep binding, in company'],
    ['Chiyo', 'Your templates are on their way'],
  ] as const) {
    await page.getByRole('button', { name: 'Try it as…' }).click()
    const opened = page.waitForEvent('popup')
    await page.getByRole('menuitem', { name: new RegExp(`as ${name}`) }).click()
    const trying = await opened
    await trying.getByRole('checkbox').check()
    await trying.getByRole('button', { name: 'Send it to me' }).click()
    await expect(trying.getByRole('heading', { level: 1 })).toHaveText(heading)
    await trying.close()
  }

  // In an email, with a link of the reader's own.
  await page.goto('/app/people')
  await page.getByRole('button', { name: 'Add person' }).click()
  const dialog = page.getByRole('dialog')
  await fillFirst(dialog.getByLabel('Email address'), 'three.ways@walks.test')
  await dialog.getByLabel('First name').fill('Tressa')
  await dialog.getByLabel('How they agreed').fill('Told me so at the spring fair')
  await dialog.getByLabel('Tags', { exact: true }).fill('Journal buyer')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Tab')
  await dialog.getByRole('button', { name: 'Add person' }).click()
  await expect(page.getByRole('heading', { name: 'Tressa', level: 1 })).toBeVisible()

  await page.goto('/app/library/emails')
  await page.getByRole('button', { name: 'New email' }).click()
  await giveName(page, 'Three ways letter')
  await page.getByRole('radio', { name: /One question/ }).check()
  await page.getByRole('button', { name: 'Make email' }).click()
  await inspector(page).getByLabel('Subject', { exact: true }).fill('Where to next?')
  const outline = page.getByRole('navigation', { name: 'Outline' })
  await outline.locator('[data-row]').nth(2).click()
  await page.keyboard.press('Insert')
  await page.getByRole('combobox', { name: 'What to add' }).fill('button')
  await page.keyboard.press('Enter')
  await inspector(page).getByLabel('Label', { exact: true }).fill('Show me')
  await inspector(page).getByRole('combobox', { name: 'Leads to' }).press('ArrowDown')
  await page.getByRole('option', { name: 'A junction', exact: true }).click()
  await choose(inspector(page), 'Junction', 'Three ways on')
  await saved(page)
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()

  await page.goto('/app/people')
  await page.getByRole('textbox', { name: 'Search by name or address' }).fill('three.ways@walks')
  await expect(page.getByRole('row', { name: /three\.ways/ })).toBeVisible()
  await page.getByRole('button', { name: 'Actions' }).click()
  await page.getByRole('menuitem', { name: /Send an email to 1 person/ }).click()
  await page.locator('form').getByRole('combobox', { name: 'Email' }).fill('Three ways letter')
  await page.getByRole('option', { name: 'Three ways letter' }).click()
  await page.getByRole('button', { name: /^Send to/ }).click()
  await page.getByRole('button', { name: 'Send at once' }).click()
  await expect(page.getByText('sent', { exact: true })).toBeVisible()
  await page.goto('/app/outbox/inbox')
  await page.getByRole('link', { name: /Where to next\?.*three\.ways@walks\.test/ }).click()
  const link = page.frameLocator('iframe').getByRole('link', { name: 'Show me' })
  const reader = await (await browser.newContext()).newPage()
  await reader.goto((await link.getAttribute('href')) ?? '')
  await expect(reader.getByRole('heading', { level: 1 })).toHaveText('Keep binding, in company')
  await reader.context().close()
})
