import { expect, test } from '@playwright/test'
import { choose, inspector, saved, withoutNotices } from '../editor.ts'
import { askAddress, newQuiz, pick, proof, publish, scoreSheet, settings } from '../quizzes.ts'

test.beforeEach(({ page }) => withoutNotices(page))

test('one question with a picture, the address before the result, and a page for each', async ({
  page,
  browser,
}) => {
  await newQuiz(page, 'What would you fold?', 'One question')
  // The score sheet is typed like a table: from cell to cell by keys.
  const answers = scoreSheet(page).getByLabel('Question 1: answer')
  await answers.first().fill('A pamphlet tonight')
  for (const [i, words] of ['A letter on Sundays', 'Something in company'].entries()) {
    await page.keyboard.press('Enter')
    await expect(answers.nth(i + 1)).toBeFocused()
    await page.keyboard.press('ControlOrMeta+a')
    await page.keyboard.type(words)
  }
  await page.keyboard.press('Tab')
  await expect(page.getByRole('button', { name: 'Undo' })).toBeEnabled()
  await pick(page, 'What would you like to hear about?')
  await choose(inspector(page), 'Picture', 'Journal')
  await inspector(page).getByLabel('Answers in random order').check()
  const pages = ['Template pack', 'Bindery letter', 'Bindery Circle']
  for (const [i, result] of ['First interest', 'Second interest', 'Third interest'].entries()) {
    await pick(page, result)
    await inspector(page).getByRole('button', { name: 'Something else' }).click()
    await inspector(page).getByRole('combobox', { name: 'Leads to' }).press('ArrowDown')
    await page.getByRole('option', { name: 'A page', exact: true }).click()
    await choose(inspector(page), 'Page', pages[i] ?? '')
  }
  await settings(page)
  await askAddress(
    page,
    'Where shall we send your binding?',
    'Then we write when there is something of the kind.',
  )
  await inspector(page).getByLabel('Once a person').check()
  await saved(page)
  await expect(proof(page)).toContainText('1 question for everybody')
  await expect(proof(page)).toContainText('every result can be got')
  await expect(scoreSheet(page)).toContainText('33 %')
  await publish(page)

  // Without a script, too: every question is a page.
  const visitor = await browser.newContext({ javaScriptEnabled: false })
  const other = await visitor.newPage()
  await other.goto('/q/what-would-you-fold')
  await expect(other.getByRole('group', { name: 'What would you like to hear about?' })).toBeVisible()
  await expect(other.locator('fieldset img').first()).toBeVisible()
  await other.getByRole('radio', { name: 'A letter on Sundays' }).check()
  await other.getByRole('button', { name: 'Finish' }).click()
  await expect(other.getByText('Then we write when there is something of the kind.')).toBeVisible()
  await other.getByLabel('First name').fill('Onda')
  await other.getByLabel('Email address').fill('one.question@postbox.example')
  await other.getByRole('checkbox').check()
  await other.getByRole('button', { name: 'Show me my binding' }).click()
  await expect(other).toHaveURL(/\/p\/letter/)
  await visitor.close()

  await page.goto('/app/people')
  await page.getByRole('textbox', { name: 'Search by name or address' }).fill('one.question@')
  await page.getByRole('link', { name: 'Onda' }).click()
  await expect(
    page.getByText('finished the quiz “What would you fold?” with “Second interest”'),
  ).toBeVisible()
})
