import { expect, test, type Page } from '@playwright/test'
import { expectNoFindings } from './accessibility.ts'
import { giveName, signIn } from './marketer.ts'

/** The stand-in for a site of somebody else. */
const otherSite = `http://127.0.0.1:${process.env.NURTEL_OTHER_SITE_PORT ?? 4685}`

const dialog = (page: Page) => page.getByRole('dialog')

/** Requests to our own server for what a form or pop-up shows. */
function watchRequests(page: Page): string[] {
  const asked: string[] = []
  page.on('request', (request) => {
    const { pathname } = new URL(request.url())
    if (pathname.startsWith('/forms/')) asked.push(pathname)
  })
  return asked
}

/** What the browser complains of: a policy that was broken, a script that failed. */
function watchFaults(page: Page): string[] {
  const faults: string[] = []
  page.on('console', (message) => message.type() === 'error' && faults.push(message.text()))
  page.on('pageerror', (error) => faults.push(error.message))
  return faults
}

const leave = (page: Page): Promise<void> =>
  page.evaluate(() => {
    document.documentElement.dispatchEvent(new MouseEvent('mouseleave', { clientY: -1 }))
  })

test('a pop-up opens when it is due and not before, closes by Escape and by a click outside, and stays away', async ({
  page,
}) => {
  const asked = watchRequests(page)
  await page.goto('/p/first-journal')
  await page.evaluate(() => localStorage.clear())
  await page.reload()
  const link = page.getByRole('link', { name: 'Privacy' })
  await link.focus()
  const before = await page.evaluate(() => document.body.getBoundingClientRect().height)
  expect(asked).toEqual([])

  await leave(page)
  await expect(dialog(page)).toHaveAccessibleName('Take the templates with you')
  expect(asked).toHaveLength(1)
  // Nothing moves under the reader, and nothing behind it can be reached.
  expect(await page.evaluate(() => document.body.getBoundingClientRect().height)).toBe(before)
  for (let i = 0; i < 12; i += 1) await page.keyboard.press('Tab')
  await expect(link).not.toBeFocused()
  await page.keyboard.press('Escape')
  await expect(dialog(page)).toHaveCount(0)
  await expect(link).toBeFocused()

  // Who has closed it is left alone, also on the next visit.
  await page.reload()
  await leave(page)
  await page.waitForTimeout(400)
  await expect(dialog(page)).toHaveCount(0)

  await page.evaluate(() => localStorage.clear())
  await page.reload()
  await leave(page)
  await expect(dialog(page)).toBeVisible()
  await page.mouse.click(20, 400)
  await expect(dialog(page)).toHaveCount(0)
})

test('its form says in place what is wrong, and after sending it never comes again', async ({ page }) => {
  await page.goto('/p/first-journal')
  await page.evaluate(() => localStorage.clear())
  await page.reload()
  await leave(page)
  await expectNoFindings(page)
  await dialog(page).getByLabel('First name').fill('Petronella')
  await dialog(page).getByLabel('Email address').fill('none')
  await dialog(page).getByRole('button', { name: 'Send me the templates' }).click()
  await expect(dialog(page).getByText('should look like name@example.com')).toBeVisible()
  await expect(dialog(page).getByLabel('First name')).toHaveValue('Petronella')

  // The server is away for a moment: nothing typed is lost.
  await page.route('**/forms/send/*', (route) => route.abort())
  await dialog(page).getByLabel('Email address').fill('petronella@walk.test')
  await dialog(page)
    .getByLabel(/Yes, send me/)
    .check()
  await dialog(page).getByRole('button', { name: 'Send me the templates' }).click()
  await expect(dialog(page).getByRole('alert')).toContainText('please try again')
  await page.unroute('**/forms/send/*')
  await dialog(page).getByRole('button', { name: 'Send me the templates' }).click()
  await expect(page).toHaveURL(/\/p\/template-pack\/thanks$/)
  const known = await page.evaluate(() => localStorage.getItem('nurtel-pop-ups'))
  expect(Object.keys((JSON.parse(known ?? '{}') as { sent: object }).sent)).toHaveLength(1)
  await page.goto('/p/first-journal')
  await leave(page)
  await page.waitForTimeout(400)
  await expect(dialog(page)).toHaveCount(0)
})

test('on a phone it fills the screen', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto('/p/first-journal')
  await page.evaluate(() => localStorage.clear())
  await page.reload()
  await leave(page)
  const box = await dialog(page).boundingBox()
  expect([box?.x, box?.y, box?.width, box?.height]).toEqual([0, 0, 390, 844])
})

test('another site shows a form in its place, by one line, under a strict policy, and leaves no trace', async ({
  page,
}) => {
  const faults = watchFaults(page)
  await page.goto(`${otherSite}/?popups=no`)
  const names = await page.evaluate(() => Object.getOwnPropertyNames(window).length)
  await page.goto(`${otherSite}/?form=templatepackform&popups=no`)
  const button = page.getByRole('button', { name: 'Send me the templates' })
  await expect(button).toBeVisible()
  // Their style reaches nothing of ours.
  await expect(button).not.toHaveCSS('color', 'rgb(255, 0, 0)')
  expect(await page.evaluate(() => Object.getOwnPropertyNames(window).length)).toBe(names)
  await page.getByLabel('Email address').fill('none')
  await button.click()
  await expect(page.getByText('should look like name@example.com')).toBeVisible()
  await page.getByLabel('First name').fill('Quentinia')
  await page.getByLabel('Email address').fill('quentinia@walk.test')
  await page.getByLabel(/Yes, send me/).check()
  expect(faults).toEqual([])
  await expectNoFindings(page, ['#before'])
  await button.click()
  await expect(page).toHaveURL(/\/p\/template-pack\/thanks$/)

  // The site is written down with what was agreed to.
  await signIn(page, '/app/people')
  await page.getByRole('link', { name: /Quentinia/ }).click()
  await expect(page.getByRole('region', { name: 'Consent' })).toContainText(otherSite)
})

test('a line that is there twice shows a pop-up once; a server that is away harms nobody', async ({
  page,
}) => {
  await page.goto(`${otherSite}/?twice=yes`)
  await page.evaluate(() => localStorage.clear())
  await page.reload()
  await page.mouse.wheel(0, 900)
  await expect(dialog(page)).toHaveAccessibleName('Free pamphlet templates')
  await expect(dialog(page)).toHaveCount(1)
  // It stands in a corner: the page around it is still used.
  await page.getByRole('button', { name: 'A button of this site' }).focus()
  await page.keyboard.press('Escape')
  await expect(dialog(page)).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'A button of this site' })).toBeFocused()

  await page.evaluate(() => localStorage.clear())
  await page.route('**/forms/**', (route) => route.abort())
  await page.goto(`${otherSite}/?form=templatepackform`)
  await page.mouse.wheel(0, 900)
  await page.waitForTimeout(400)
  await expect(page.getByRole('heading', { name: 'The Paper Loft' })).toBeVisible()
  await expect(dialog(page)).toHaveCount(0)
})

test('a frame on another site is as high as what stands in it', async ({ page }) => {
  await page.goto(`${otherSite}/?frame=templatepackform&popups=no`)
  const frame = page.frameLocator('iframe')
  await expect(frame.getByRole('button', { name: 'Send me the templates' })).toBeVisible()
  const height = async (): Promise<number> => (await page.locator('iframe').boundingBox())?.height ?? 0
  await expect.poll(height).not.toBe(600)
  const before = await height()
  // Faults make it higher.
  await frame.getByRole('button', { name: 'Send me the templates' }).click()
  await expect(frame.getByText('Please write your email address')).toBeVisible()
  await expect.poll(height).toBeGreaterThan(before)
})

test('a pop-up is made, its rules read aloud, opened by a button of a page, with and without a script', async ({
  page,
  browser,
}) => {
  await page.route('**/api/work', (route) => route.fulfill({ json: [] }))
  await signIn(page, '/app/library/pop-ups')
  await page.getByRole('button', { name: 'New pop-up' }).click()
  await giveName(page, 'Ask us anything')
  await page.getByRole('combobox', { name: 'Form' }).fill('Your bench')
  await page.getByRole('option', { name: 'Your bench' }).click()
  await page.getByRole('button', { name: 'Make pop-up' }).click()
  const inspector = page.getByRole('complementary', { name: 'Inspector' })
  await expect(inspector).toContainText('opens after 20 seconds')
  await inspector.getByRole('textbox', { name: 'After so many seconds' }).fill('')
  await inspector.getByRole('textbox', { name: 'After so many seconds' }).press('Tab')
  await inspector.getByLabel('On pages', { exact: true }).fill('nonsense')
  await page.keyboard.press('Enter')
  await expect(inspector.getByText('Use a path such as /p/*')).toBeVisible()
  await page.keyboard.press('Backspace')
  await expect(inspector).toContainText('opens by a button only')
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible()
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()

  await page.goto('/app/library/pages')
  await page.getByRole('button', { name: 'New page' }).click()
  await giveName(page, 'Questions')
  await page.getByRole('button', { name: 'Make page' }).click()
  await page
    .getByRole('navigation', { name: 'Outline' })
    .getByRole('button', { name: /^Add to/ })
    .first()
    .click()
  await page.getByRole('combobox', { name: 'What to add' }).fill('button')
  await page.getByRole('option', { name: 'button', exact: true }).click()
  await inspector.getByLabel('Label', { exact: true }).fill('Ask us')
  await inspector.getByRole('combobox', { name: 'Leads to' }).press('ArrowDown')
  await page.getByRole('option', { name: 'A pop-up' }).click()
  await inspector.getByRole('combobox', { name: 'Pop-up' }).fill('Ask us')
  await page.getByRole('option', { name: 'Ask us anything' }).click()
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible()
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('live', { exact: true })).toBeVisible()

  await page.goto('/p/questions')
  await page.getByRole('link', { name: 'Ask us' }).click()
  await expect(dialog(page).getByText('Step 1 of 3')).toBeVisible()
  await dialog(page).getByLabel('A nipping press').check()
  await dialog(page).getByRole('button', { name: 'Go on' }).click()
  await expect(dialog(page).getByText('Step 2 of 3')).toBeVisible()
  await dialog(page).getByRole('button', { name: 'Back' }).click()
  await expect(dialog(page).getByLabel('A nipping press')).toBeChecked()

  const context = await browser.newContext({ javaScriptEnabled: false })
  const plain = await context.newPage()
  await plain.goto('/p/questions')
  await plain.getByRole('link', { name: 'Ask us' }).click()
  await expect(plain.getByText('Step 1 of 3')).toBeVisible()
  await context.close()
})
