import { chromium as engine, type Page } from '@playwright/test'
import { chromium } from './browser.ts'
import { startDemo } from './demo.ts'
import { signIn } from './marketer.ts'

const folder = process.env.SHOTS ?? 'docs/screenshots'
const size = { width: 1280, height: 800 }

/** Waits until the letters have their shapes and nothing moves, then takes the picture. */
async function shoot(page: Page, name: string): Promise<void> {
  await page.evaluate(() => document.fonts.ready)
  await page.waitForTimeout(300)
  await page.screenshot({ path: `${folder}/${name}.png`, animations: 'disabled', caret: 'hide' })
  console.log(`${folder}/${name}.png`)
}

/** Main views in the order of the README. */
async function walk(page: Page): Promise<void> {
  await page.goto('/p/template-pack?utm_source=makers-letter')
  await shoot(page, 'public-page')
  await page.goto('/p/template-pack/thanks')
  await shoot(page, 'thank-you-page')

  await page.goto('/p/paper-grain/three-tests')
  await shoot(page, 'lesson')

  await page.goto('/app/today')
  await page.getByLabel('Password').waitFor()
  await signIn(page)
  await page.getByRole('region', { name: 'Departures, by time' }).waitFor()
  await shoot(page, 'today')

  await page.getByRole('link', { name: 'People', exact: true }).click()
  await page.getByRole('cell', { name: 'subscribed' }).first().waitFor()
  await shoot(page, 'people')

  await page.goto('/app/people?segment=3')
  await page.getByRole('group', { name: 'Examples' }).getByRole('button').first().click()
  await page.getByRole('status').waitFor()
  await shoot(page, 'segment')

  await page.goto('/app/people/12')
  await page.getByRole('heading', { name: 'Score' }).waitFor()
  await shoot(page, 'person')

  await page.goto('/app/people/scorecards/1')
  await page.getByRole('button', { name: 'Suggest points' }).click()
  await page.getByRole('heading', { name: 'Suggested points' }).waitFor()
  await shoot(page, 'scorecard')

  await page.goto('/app/people/imports/1')
  await page.getByText('new people').waitFor()
  await shoot(page, 'import')

  await page.getByRole('button', { name: 'Rehearsal' }).click()
  await page.getByRole('menuitem', { name: 'Ada Finch' }).click()
  await page.getByRole('menuitem', { name: 'Ada Finch' }).waitFor({ state: 'hidden' })
  await page.getByRole('button', { name: 'Jump to next' }).waitFor()
  await shoot(page, 'person-in-rehearsal')

  await page.getByRole('link', { name: 'Follow-ups', exact: true }).click()
  await page.getByRole('link', { name: 'Template pack' }).waitFor()
  await shoot(page, 'follow-ups')
  await page.getByRole('link', { name: 'Template pack' }).click()
  await page
    .getByRole('button', { name: /wait 2 days/ })
    .first()
    .click()
  await shoot(page, 'timetable')

  await page.getByRole('link', { name: 'Library', exact: true }).click()
  await page.getByRole('link', { name: 'Template pack', exact: true }).waitFor()
  // The miniatures are drawn one after the other: the last row that one sees has its own.
  await page
    .getByRole('row', { name: /Paper grain \/p/ })
    .locator('iframe')
    .waitFor()
  await page.waitForLoadState('networkidle')
  await shoot(page, 'pages')
  await page.getByRole('link', { name: 'Template pack', exact: true }).click()
  await page.frameLocator('iframe[title^="The page as"]').locator('h1').click()
  await shoot(page, 'page-editor')
  await page.goto('/app/library/brand')
  await page.frameLocator('iframe').locator('h1').waitFor()
  await shoot(page, 'brand')

  await page.getByRole('link', { name: 'Outbox', exact: true }).click()
  await page.getByRole('cell', { name: 'Your template pack' }).first().waitFor()
  await shoot(page, 'outbox')
  await page.getByRole('tab', { name: 'Broadcasts' }).click()
  await page
    .getByRole('button', { name: /left out: show why/ })
    .first()
    .click()
  await shoot(page, 'broadcasts')
  await page.getByRole('tab', { name: 'Test inbox' }).click()
  await page.frameLocator('iframe').getByText('Download the template pack').waitFor()
  await shoot(page, 'test-inbox')

  const letter = page.frameLocator('iframe').getByRole('link', { name: 'Email preferences' })
  await page.goto((await letter.getAttribute('href')) ?? '')
  await shoot(page, 'preferences')
}

const demo = await startDemo()
const browser = await engine.launch(chromium)
try {
  const page = await browser.newPage({ viewport: size, baseURL: demo.url, reducedMotion: 'reduce' })
  // The browser's clock goes from where the server's does.
  await page.clock.install({ time: new Date(process.env.NURTEL_CLOCK ?? Date.now()) })
  await walk(page)
} finally {
  await browser.close()
  await demo.stop()
}
