import { expect, test, type Page } from '@playwright/test'
import { inspector, saved, sheet, withoutNotices } from '../editor.ts'
import { signIn } from '../marketer.ts'
import { signUp } from '../newcomer.ts'

const left = (page: Page) => page.getByRole('region', { name: 'What is left to do' })
const ticked = (page: Page, words: string) =>
  expect(left(page).getByRole('listitem').filter({ hasText: words }).getByLabel('done')).toBeVisible()

test.beforeEach(({ page }) => withoutNotices(page))

/** Takes what is empty out of the sheet, part by part. */
async function takeOutEmpty(page: Page, kind: string): Promise<void> {
  await sheet(page).locator(`.b.${kind}`).first().click()
  await inspector(page).getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: 'Delete' }).click()
}

async function begin(page: Page, point: RegExp): Promise<void> {
  await page.getByRole('button', { name: 'Choose another starting point' }).click()
  await page.getByRole('radio', { name: point }).click()
  await page.getByRole('button', { name: 'Begin again' }).click()
}

async function write(page: Page, what: string, words: string): Promise<void> {
  await sheet(page).locator(what).first().click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type(words)
}

test('from a goal to a live funnel, by the list of what is left', async ({ page, browser }) => {
  await signIn(page, '/app/library/site')
  const site = (await (await page.request.get('/api/site')).json()) as {
    settings: { favicon: number | null }
  }
  const { favicon } = site.settings
  await page.goto('/app/funnels')
  await page.getByRole('button', { name: 'New funnel' }).click()
  await page.getByRole('radio', { name: 'Grow the list' }).check()
  await page.getByRole('radio', { name: /Two pages against each other/ }).check()
  await page.getByLabel('Name', { exact: true }).fill('Yearly pressing')
  await page.getByRole('combobox', { name: 'Labels (optional)' }).fill('spring offers')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Make funnel' }).click()
  await expect(page.getByText('spring offers', { exact: true })).toBeVisible()

  // One page is enough: the second track is taken out.
  await page.getByRole('button', { name: /^landing page A/ }).click()
  await inspector(page).getByRole('button', { name: 'Take the second page out' }).click()
  await expect(page.getByText('% of the visitors get it')).toHaveCount(0)
  await page.getByRole('button', { name: /^landing page A/ }).press('Escape')

  // A starting point for each of both pages, and own words.
  await left(page).getByRole('link', { name: 'Write “landing page A”' }).click()
  await begin(page, /A look inside/)
  await write(page, 'h1', 'Flat sheets, flat books')
  await takeOutEmpty(page, 'picture')
  await takeOutEmpty(page, 'quotes')
  await sheet(page).locator('.b.heading').nth(1).click()
  await page.keyboard.type('It comes by email')
  await write(page, '.b.text', 'One sheet, at once.')
  await saved(page)
  await page.goBack()
  await ticked(page, 'landing page A')

  await left(page).getByRole('link', { name: 'Write “thank-you page”' }).click()
  await begin(page, /What happens next/)
  await write(page, 'h1', 'It is on its way')
  await saved(page)
  await page.goBack()
  await ticked(page, 'thank-you page')

  await left(page).getByRole('link', { name: 'Write “welcome”' }).click()
  await sheet(page).locator('.b.text').nth(1).click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Press your sheets overnight, between two boards.')
  await saved(page)
  await page.goBack()
  await ticked(page, 'welcome')

  // The sender of the story has said yes already.
  await ticked(page, 'Confirm the sender')

  // Domain, icon, and others who count, asked for consent.
  await left(page).getByRole('link', { name: 'Connect your domain' }).click()
  const domains = page.getByRole('combobox', { name: 'Your own domains' })
  await domains.fill('pages.quillfeather.test')
  await domains.press('Enter')
  const scripts = page.getByRole('combobox', { name: 'Tracking scripts' })
  await scripts.fill('https://counter.quillfeather.test/count.js')
  await scripts.press('Enter')
  await page.getByRole('combobox', { name: 'Icon of the browser tab' }).press('ArrowDown')
  await page.getByRole('option').first().click()
  await page.getByRole('button', { name: 'Save settings' }).click()
  await expect(page.getByText('saved', { exact: true })).toBeVisible()

  await page.goto('/app/funnels')
  await page.getByRole('link', { name: 'Yearly pressing' }).click()
  for (const words of ['Connect your domain', 'Choose an icon', 'Count with the help of others'])
    await ticked(page, words)
  await page.getByRole('button', { name: 'Go live' }).click()
  await ticked(page, 'Go live')

  // A visitor: the form works, and nobody else counts before they have said yes.
  const visitor = await (await browser.newContext()).newPage()
  const asked: string[] = []
  visitor.on('request', (request) => asked.push(new URL(request.url()).hostname))
  await signUp(visitor, 'yearly-pressing', 'noor@goal.test')
  await expect(visitor.getByRole('heading', { level: 1 })).toHaveText('It is on its way')
  await expect(visitor.getByRole('button', { name: 'Allow', exact: true })).toBeVisible()
  expect(asked).not.toContain('counter.quillfeather.test')
  const head = await (await page.request.get('/p/yearly-pressing')).text()
  expect(head).toContain('href="https://pages.quillfeather.test/yearly-pressing"')
  expect(head).toMatch(/rel="icon" href="\/pictures\//)
  await visitor.context().close()

  // The site is left as it was found.
  await page.goto('/app/library/site')
  for (const each of ['pages.quillfeather.test', 'https://counter.quillfeather.test/count.js'])
    await page.locator('.v-chip', { hasText: each }).getByRole('button').click()
  if (favicon === null) await page.getByRole('button', { name: 'Clear Icon of the browser tab' }).click()
  await page.getByRole('button', { name: 'Save settings' }).click()
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
})
