import { expect, test, type Page } from '@playwright/test'
import { giveName, signIn } from './marketer.ts'

const sheet = (page: Page) => page.frameLocator('iframe[title="The page as its visitors see it"]')
const outline = (page: Page) => page.getByRole('navigation', { name: 'Outline' })
const saved = (page: Page) => expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible()

// Imports of the tests beside these would move what is about to be pressed.
test.beforeEach(({ page }) => page.route('**/api/work', (route) => route.fulfill({ json: [] })))

test('a page is made from a starting point by mouse, written, moved, hidden on phones, published, and taken back', async ({
  page,
  browser,
}) => {
  await signIn(page, '/app/library/pages')
  await page.getByRole('button', { name: 'New page' }).click()
  await giveName(page, 'Winter thread list')
  await expect(page.getByLabel('Address', { exact: true })).toHaveValue('winter-thread-list')
  await page.getByRole('radio', { name: /One promise/ }).click()
  await page.getByRole('button', { name: 'Make page' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Winter thread list' })).toBeVisible()

  // Written in the page itself, with the guidance gone once there are words.
  await sheet(page).locator('h1').click()
  await page.keyboard.type('Thread that lasts the winter')
  await expect(outline(page)).toContainText('Thread that lasts the winter')
  await sheet(page).locator('.b.text').click()
  await page.keyboard.type('Three threads, and ')
  await page.keyboard.press('Control+b')
  await page.keyboard.type('one needle')
  await expect(sheet(page).locator('.b.text strong')).toHaveText('one needle')

  // Added at an insert line, moved and hidden by the inspector.
  await outline(page)
    .getByRole('button', { name: /^Add to/ })
    .first()
    .click()
  await page.getByRole('combobox', { name: 'What to add' }).fill('questions')
  await page.getByRole('option', { name: 'questions and answers' }).click()
  const inspector = page.getByRole('complementary', { name: 'Inspector' })
  await inspector.getByLabel('Question', { exact: true }).fill('Is linen better?')
  await inspector.getByLabel('Answer', { exact: true }).fill('For books, yes.')
  await inspector.getByRole('button', { name: 'Move up' }).first().click()
  await inspector.getByLabel('Hide on phones').check()

  // The empty list is taken out; the form says where it leads.
  await sheet(page).locator('.b.list').click()
  await inspector.getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: 'Delete' }).click()
  await saved(page)

  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()

  const context = await browser.newContext({ javaScriptEnabled: false })
  const visitor = await context.newPage()
  await visitor.goto('/p/winter-thread-list')
  await expect(visitor.getByRole('heading', { level: 1 })).toHaveText('Thread that lasts the winter')
  await expect(visitor.getByText('Is linen better?')).toBeVisible()
  await visitor.setViewportSize({ width: 390, height: 844 })
  await expect(visitor.getByText('Is linen better?')).toBeHidden()
  expect(
    await visitor.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth).catch(() => true),
  ).toBe(true)

  // Another version, and back to the first.
  await sheet(page).locator('h1').click()
  await page.keyboard.press('Control+End')
  await page.keyboard.type(' and spring')
  await saved(page)
  await page.getByRole('button', { name: /consider|Checks passed/ }).click()
  await expect(page.getByText('Changed “Thread that lasts the winter” to')).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(async () => {
    await visitor.reload()
    // Asked again at once: a page that was loaded a moment too early stays as it is.
    expect(await visitor.getByRole('heading', { level: 1 }).textContent()).toBe(
      'Thread that lasts the winter and spring',
    )
  }).toPass()
  await inspector.getByRole('combobox', { name: 'Version' }).press('ArrowDown')
  await page.getByRole('option', { name: /^1: / }).click()
  await page.getByRole('button', { name: 'Go back to version 1' }).click()
  await expect(sheet(page).locator('h1')).toHaveText('Thread that lasts the winter')
  await context.close()
})

test('a page is made by keyboard alone', async ({ page }) => {
  await signIn(page, '/app/library/pages')
  await page.getByRole('button', { name: 'New page' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Name', { exact: true })).toBeFocused()
  await page.keyboard.type('Needle care')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { level: 1, name: 'Needle care' })).toBeVisible()

  // The outline is walked with the arrows; Enter writes, Escape comes back.
  await outline(page).locator('[tabindex="0"]').first().focus()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(sheet(page).locator('h1')).toBeFocused()
  await page.keyboard.type('Keep your needles dry')
  await page.keyboard.press('Escape')
  const entry = outline(page).locator('[aria-current]')
  await expect(entry).toBeFocused()
  await expect(entry).toContainText('Keep your needles dry')

  // Added, moved, copied, deleted, and all of it undone.
  const entries = outline(page).locator('.column .entry')
  const before = await entries.count()
  await page.keyboard.press('Insert')
  await page.getByRole('combobox', { name: 'What to add' }).fill('divider')
  await page.keyboard.press('Enter')
  await expect(entries).toHaveCount(before + 1)
  await expect(outline(page).locator('[aria-current]')).toHaveText('divider')
  await page.keyboard.press('Alt+ArrowUp')
  await expect(entries.first()).toHaveText('divider')
  await page.keyboard.press('Control+d')
  await expect(entries).toHaveCount(before + 2)
  await page.keyboard.press('Delete')
  await expect(entries).toHaveCount(before + 1)
  await page.keyboard.press('Control+x')
  await expect(entries).toHaveCount(before)
  await page.keyboard.press('Control+v')
  await expect(entries).toHaveCount(before + 1)
  for (let i = 0; i < 6; i += 1) await page.keyboard.press('Control+z')
  await expect(entries).toHaveCount(before)
  await page.keyboard.press('Control+y')
  await expect(entries).toHaveCount(before + 1)
  await saved(page)
})

test('what is written while the server is away is kept, and saved when it is back', async ({ page }) => {
  await signIn(page, '/app/library/pages')
  await page.getByRole('textbox', { name: 'Search by name or address' }).fill('atelier')
  await page.getByRole('link', { name: 'Autumn Atelier', exact: true }).click()
  await page.route('**/api/pages/*/save', (route) => route.abort())
  await sheet(page).locator('h1').click()
  await page.keyboard.press('Control+End')
  await page.keyboard.type(' 2027')
  await expect(page.getByText('not saved yet')).toBeVisible()
  await expect(page.getByText('Nurtel is not responding')).toBeVisible()
  await page.unroute('**/api/pages/*/save')
  await saved(page)
  await page.reload()
  await expect(sheet(page).locator('h1')).toHaveText('Autumn Atelier 2027')
})

test('a colour of the brand is on every page a moment later', async ({ page }) => {
  await signIn(page, '/app/library/brand')
  await page.getByLabel('Buttons and links', { exact: true }).fill('#D9A0BC')
  await expect(page.getByText(/Text on buttons: 2\.\d, at least 4\.5 is readable/)).toBeVisible()
  await page.getByLabel('Buttons and links', { exact: true }).fill('#1F4D3A')
  await page.getByRole('button', { name: 'Save brand' }).click()
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  const visitor = await page.context().newPage()
  await visitor.goto('/p/privacy')
  const colour = (of: Page) =>
    of.evaluate(() => getComputedStyle(document.documentElement).getPropertyValue('--accent'))
  await expect(async () => {
    await visitor.reload()
    expect(await colour(visitor)).toBe('#1F4D3A')
  }).toPass()
})

test('the lessons of a course are ordered by keys, and stay so', async ({ page }) => {
  await signIn(page, '/app/library/pages')
  await page.getByRole('textbox', { name: 'Search by name or address' }).fill('Three tests')
  await page.getByRole('link', { name: 'Lesson: Three tests' }).click()
  const lessons = page.getByRole('list', { name: /Order of “/ }).getByRole('listitem')
  await expect(lessons).toHaveCount(3)
  await expect(lessons.first()).toContainText('Three tests')
  await lessons.first().focus()
  await page.keyboard.press('Alt+ArrowDown')
  await expect(lessons.nth(1)).toContainText('Three tests')
  await expect(lessons.nth(1)).toBeFocused()
  await page.reload()
  await expect(lessons.nth(1)).toContainText('Three tests')
  await page.getByRole('button', { name: 'Move “Three tests that need no tools” up' }).click()
  await expect(lessons.first()).toContainText('Three tests')
})

test('the name servers are asked whether a domain leads here', async ({ page }) => {
  await signIn(page, '/app/library/site')
  const domains = page.getByRole('combobox', { name: 'Your own domains' })
  for (const name of ['pages.quillfeather.example', 'old.quillfeather.example']) {
    await domains.fill(name)
    await page.keyboard.press('Enter')
  }
  await page.getByRole('button', { name: 'Check domains' }).click()
  const found = page.getByRole('status').getByRole('listitem')
  await expect(found.first()).toHaveText('pages.quillfeather.example leads here.')
  await expect(found.nth(1)).toContainText('leads elsewhere (CNAME to shop.elsewhere.example)')
})
