import { expect, test } from '@playwright/test'
import { withoutNotices } from '../editor.ts'
import { signIn } from '../marketer.ts'

const otherSiteUrl = `http://127.0.0.1:${process.env.NURTEL_OTHER_SITE_PORT ?? 4685}`

test.beforeEach(({ page }) => withoutNotices(page))

test('a quiz with pictures sorts people: on its page, on another site, and in the report', async ({
  page,
}) => {
  // As a link: question follows question without a page being loaded, and what was answered stays.
  await page.goto('/q/which-binding-suits-you')
  await page.getByRole('link', { name: 'Show me' }).click()
  await page.getByText('Notes that I carry around').click()
  await expect(page.getByRole('group', { name: /Which spine/ })).toBeVisible()
  await page.getByText('The one sewn in chains').click()
  await expect(page.getByText('Question 3 of 7')).toBeVisible()
  await page.goBack()
  await expect(page.getByRole('radio', { name: 'The one sewn in chains' })).toBeChecked()
  await page.reload()
  await expect(page.getByRole('radio', { name: 'The one sewn in chains' })).toBeChecked()
  await page.getByRole('button', { name: 'Next' }).click()
  await expect(page.getByText('Question 3 of 7')).toBeVisible()
  // Of several at most two; nothing is an answer too, here.
  for (const each of await page.getByRole('checkbox').all()) await each.check()
  await page.getByRole('button', { name: 'Next' }).click()
  await expect(page.getByRole('alert')).toContainText('Please choose 2 at most')
  await page.getByRole('checkbox').last().uncheck()
  await page.getByRole('button', { name: 'Next' }).click()
  await page.getByText('A little, where it helps').click()
  await page.getByText('Yes', { exact: true }).click()
  await page.getByText('3', { exact: true }).click()
  await page.getByText('I unpick it once').click()
  await page.getByLabel('First name').fill('Sorted')
  await page.getByLabel('Email address').fill('sorted@postbox.example')
  await page.getByRole('checkbox').check()
  await page.getByRole('button', { name: 'Show me my binding' }).click()
  await expect(page.getByRole('heading', { name: 'Yours is the coptic' })).toBeVisible()
  await expect(page.getByRole('heading', { name: 'What others got' })).toBeVisible()
  const shared = page.getByRole('link', { name: /\/r\/copticbook$/ })
  await shared.click()
  await expect(page.getByRole('heading', { name: 'I am a coptic person' })).toBeVisible()

  // On another site, in a frame that grows with it.
  await page.goto(`${otherSiteUrl}/?quiz=which-binding-suits-you&popups=no`)
  const frame = page.frameLocator('iframe[title="Quiz"]')
  await frame.getByRole('link', { name: 'Show me' }).click()
  await frame.getByText('A gift, by the weekend').click()
  await expect(frame.getByRole('group', { name: /Which spine/ })).toBeVisible()
  await expect(page.locator('iframe[title="Quiz"]')).toHaveAttribute('style', /height: \d+px/)

  // Each result has its tag and its journal; the report tells where people leave.
  await signIn(page, '/app/people')
  await page.getByRole('textbox', { name: 'Search by name or address' }).fill('sorted@')
  await page.getByRole('link', { name: 'Sorted' }).click()
  await expect(page.getByText('finished the quiz “Which binding suits you?” with “Coptic”')).toBeVisible()
  await expect(page.getByRole('region', { name: 'Profile' })).toContainText('Quiz: Coptic')
  await page.goto('/app/library/quizzes')
  await page.getByRole('link', { name: 'Which binding suits you?' }).click()
  await page.getByRole('link', { name: 'Report' }).click()
  await expect(page.getByRole('region', { name: 'Where they leave' })).toContainText('left here')
})
