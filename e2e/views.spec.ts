import { expect, test, type Page } from '@playwright/test'
import { faultsOf } from '../testing/markup.ts'
import { todayScript } from '../testing/todayScript.ts'
import { expectNoFindings } from './accessibility.ts'
import { signIn } from './marketer.ts'

/** Goes to another screen as a link does, which loads the application only the first time. */
async function goWithin(page: Page, path: string): Promise<void> {
  const from = new URL(page.url())
  if (from.pathname === new URL(path, from).pathname) {
    await page.goto(path)
    return
  }
  const before = await page.locator('main > *').first().elementHandle()
  await page.evaluate((to) => {
    history.pushState(null, '', to)
    dispatchEvent(new PopStateEvent('popstate'))
  }, path)
  // What was shown before is gone: nothing of it is looked at once more.
  await before.waitForElementState('hidden')
}

test('public pages have no accessibility findings, and ask nobody else for anything', async ({
  page,
  baseURL,
}) => {
  const elsewhere: string[] = []
  page.on('request', (request) => {
    if (!request.url().startsWith(`${baseURL}/`)) elsewhere.push(request.url())
  })
  for (const path of [
    '/p/template-pack',
    '/p/template-pack/thanks',
    '/p/paper-grain/three-tests',
    '/p/first-journal',
    '/p/first-journal/order',
    '/p/field-guide/thanks',
    '/p/letter',
    '/p/your-bench',
    '/q/which-binding-suits-you',
    '/q/what-brings-you-to-the-bench',
    '/q/which-binding-suits-you/r/copticbook',
    '/forms/frame/templatepackform',
    '/p/no-such-page',
  ]) {
    await page.goto(path)
    await expectNoFindings(page)
  }
  expect(elsewhere).toEqual([])
})

test('every page of the story is valid HTML', async ({ request }) => {
  const sitemap = await (await request.get('/sitemap.xml')).text()
  const listed = [...sitemap.matchAll(/<loc>https?:\/\/[^/]+(\/p\/[^<]+)<\/loc>/g)].map(
    ([, path]) => path ?? '',
  )
  expect(listed.length).toBeGreaterThan(3)
  const unlisted = ['template-pack/thanks', 'template-pack/file', 'paper-grain/three-tests', 'no-such-page']
  for (const path of [...listed, ...unlisted.map((each) => `/p/${each}`)])
    expect([path, faultsOf(await (await request.get(path)).text())]).toEqual([path, []])
})

test('the sign-in has no accessibility findings', async ({ page }) => {
  await page.goto('/app/today')
  await page.getByLabel('Password').waitFor()
  await expectNoFindings(page)
})

test.describe('signed in', () => {
  // One page goes through all views: a browser that opens the next screen reads the application only once.
  let page: Page
  test.beforeAll(async ({ browser }) => {
    page = await browser.newPage()
    await signIn(page)
  })
  test.afterAll(() => page.close())

  for (const [path, words] of [
    ['/app/today', 'today'],
    ['/app/people', 'Template pack'],
    ['/app/people?segment=1', 'Save as segment'],
    ['/app/people/2', 'Past follow-ups'],
    ['/app/people/segments', 'Gone quiet'],
    ['/app/people/tags', 'Has bought anything'],
    ['/app/people/topics', 'Bindery letter'],
    ['/app/people/fields', 'Favourite binding'],
    ['/app/people/scorecards', 'Interest'],
    ['/app/people/scorecards/1', 'Bands'],
    ['/app/people/imports', 'Spring fair.csv'],
    ['/app/people/imports/1', 'Result'],
    ['/app/funnels', 'Grow the list'],
    ['/app/funnels/1', 'The line'],
    ['/app/funnels/1/settings', 'When it is open'],
    ['/app/funnels/1/stage', 'Who tries it?'],
    ['/app/funnels/7?check', 'Keeps it from going live'],
    ['/app/follow-ups', 'live'],
    ['/app/follow-ups/1', 'Starts when somebody'],
    ['/app/follow-ups/1/people', 'Stands at'],
    ['/app/follow-ups/1/journal', 'Your template pack'],
    ['/app/follow-ups/1/numbers', 'Step by step'],
    ['/app/follow-ups/1/rehearsal', 'Twelve months'],
    ['/app/library/pages', 'Template pack'],
    ['/app/library/pages/3', 'Page'],
    ['/app/library/files', 'Open pamphlet'],
    ['/app/library/forms', 'Bindery letter'],
    ['/app/library/forms/1', 'On other sites'],
    ['/app/library/pop-ups', 'The letter, at the edge'],
    ['/app/library/pop-ups/1', 'Where and to whom'],
    ['/app/library/emails', 'Opens are a hint'],
    ['/app/library/emails/1', 'Text part'],
    ['/app/library/emails/8/report', 'Over time'],
    ['/app/library/products', 'Bind Your First Journal'],
    ['/app/library/coupons', 'BENCH-20'],
    ['/app/library/products/2', 'What buyers pay'],
    ['/app/library/quizzes', 'Which binding suits you?'],
    ['/app/library/quizzes/1', 'every result can be got'],
    ['/app/library/quizzes/1/report', 'Where they leave'],
    ['/app/library/junctions', 'After the templates'],
    ['/app/library/junctions/1', 'Passes, 30 days'],
    ['/app/library/junctions/2', 'Nobody gets here'],
    ['/app/library/links', 'Keep me a place'],
    ['/app/library/shared-details', 'stitch-along'],
    ['/app/library/brand', 'Typefaces'],
    ['/app/library/site', 'Domains'],
    ['/app/results/orders', 'in 30 days'],
    ['/app/results/orders/1', 'What was bought'],
    ['/app/results/left-carts', 'Left the checkout'],
    ['/app/outbox', 'Address'],
    ['/app/outbox?show=problems', 'bounced'],
    ['/app/outbox/broadcasts', 'let it lie flat'],
    ['/app/outbox/broadcasts/4', 'Split test'],
    ['/app/outbox/broadcasts/new', 'Who gets it'],
    ['/app/outbox/calendar', 'Monday'],
    ['/app/outbox/inbox', 'From'],
    ['/app/outbox/sending', 'Ilse Varga'],
    ['/app/no-such-screen', 'There is no page at this address'],
  ] as const)
    test(`${path} has no accessibility findings and fits into 1280 pixels`, async () => {
      await goWithin(page, path)
      await page.locator('main').getByText(words).first().waitFor()
      await expectNoFindings(page)
      const wider = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)
      expect(wider).toBeLessThanOrEqual(0)
    })
})

test('Today and a person can be read on a phone', async ({ page }) => {
  await signIn(page)
  await page.setViewportSize({ width: 390, height: 844 })
  for (const path of ['/app/today', '/app/people/2']) {
    await page.goto(path)
    await page.getByRole('heading', { level: 1 }).waitFor()
    const wider = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)
    expect(wider, `${path} scrolls sideways`).toBeLessThanOrEqual(0)
  }
})

test('the first visit of Today brings no shapes of screens that it does not show', async ({
  page,
  browser,
  baseURL,
}) => {
  await signIn(page)
  const visitor = await browser.newContext({ baseURL })
  await visitor.addCookies(await page.context().cookies())
  expect(await todayScript(await visitor.newPage())).toBeLessThanOrEqual(180)
  await visitor.close()
})

test('a timetable is read with the arrow keys', async ({ page }) => {
  await signIn(page, '/app/follow-ups/1')
  await page.getByRole('button', { name: /Send the email “Your template pack”/ }).focus()
  await page.keyboard.press('Space')
  const inspector = page.getByRole('complementary', { name: 'Inspector' })
  await expect(inspector).toContainText('Send the email “Your template pack”')
  await page.keyboard.press('ArrowRight')
  await expect(inspector).toContainText('Wait 2 days. Who comes to it')
  await page.keyboard.press('ArrowRight')
  await expect(inspector).toContainText('Has the file: if clicked in “Your template pack”')
  await page.keyboard.press('ArrowDown')
  await expect(inspector).toContainText('Stitch along on Sunday')
})

test('a wrong password says so, keeps the address, and lets nobody in', async ({ page }) => {
  await page.goto('/app/people')
  await page.getByLabel('Email address').fill('tom@quillfeather.example')
  await page.getByLabel('Password').fill('not this')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('alert')).toContainText('Email address or password is wrong')
  await expect(page.getByLabel('Email address')).toHaveValue('tom@quillfeather.example')
  await page.getByLabel('Password').fill('five-hole-stitch')
  await page.keyboard.press('Enter')
  // On to where they wanted to go.
  await expect(page.getByRole('heading', { name: 'People', level: 1 })).toBeVisible()
})

test('a server that is away is said, and the screen comes back by itself', async ({ page }) => {
  await signIn(page)
  await page.route('**/api/**', (route) => route.abort())
  await page.getByRole('link', { name: 'Follow-ups', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Follow-ups', level: 1 })).toBeVisible()
  await expect(page.getByRole('alert')).toContainText('Nurtel is not responding')
  await page.unroute('**/api/**')
  await expect(page.getByRole('link', { name: 'Template pack' })).toBeVisible()
  await expect(page.getByRole('alert')).toBeHidden()
})
