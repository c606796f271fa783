import { writeFile } from 'node:fs/promises'
import { chromium as engine, type Page } from '@playwright/test'
import sharp from 'sharp'
import { chromium } from './browser.ts'
import { pay } from './buying.ts'
import { startDemo } from './demo.ts'
import { signIn } from './marketer.ts'

const folder = process.env.SHOTS ?? 'docs/screenshots'
const size = { width: 1280, height: 800 }

/** Waits until the letters have their shapes and nothing moves, then takes the picture. */
async function take(page: Page): Promise<Buffer> {
  await page.evaluate(() => document.fonts.ready)
  await page.waitForTimeout(300)
  return page.screenshot({ animations: 'disabled', caret: 'hide' })
}

async function keep(name: string, picture: Buffer): Promise<void> {
  await writeFile(`${folder}/${name}.png`, picture)
  console.log(`${folder}/${name}.png`)
}

const shoot = async (page: Page, name: string): Promise<void> => keep(name, await take(page))

/** What a buyer sees, in two narrow windows beside each other: the rest of an order with the card, and the thanks. */
async function shootOrder(page: Page): Promise<void> {
  const half = { width: size.width / 2, height: size.height }
  await page.setViewportSize(half)
  await page.goto('/p/first-journal/order')
  await page.getByLabel('Email', { exact: true }).fill('imke@postbox.example')
  await page.getByLabel('First name').fill('Imke')
  await page.getByRole('button', { name: 'Go on' }).click()
  await page.getByLabel('Country').selectOption('DE')
  await page.getByLabel(/Yes, add/).check()
  await page.getByText('€91').waitFor()
  await page.frameLocator('iframe').getByLabel('Card number').waitFor()
  await page.getByLabel('Country').scrollIntoViewIfNeeded()
  await page.waitForTimeout(500)
  await page.locator('.more').evaluate((more) => scrollTo(0, more.getBoundingClientRect().top + scrollY - 80))
  const order = await take(page)
  await page.getByLabel(/I agree to the terms/).check()
  await pay(page, 'Begin the course')
  for (const no of ['No, thank you', 'No, on to my course'])
    await page.getByRole('link', { name: no }).click()
  await page.getByText('Thank you, Imke').waitFor()
  const thanks = await take(page)
  const both = sharp({ create: { ...size, channels: 3, background: '#fff' } }).composite([
    { input: order, left: 0, top: 0 },
    { input: thanks, left: half.width, top: 0 },
  ])
  await keep('order-page', await both.png().toBuffer())
  await page.setViewportSize(size)
}

/** What is somebody's, who came in by the link of an email. */
async function shootBuyersArea(page: Page): Promise<void> {
  const orders = (await (await page.request.get('/api/orders?search=Bindery Circle')).json()) as {
    rows: { address: string }[]
  }
  await page.goto('/mine')
  await page.getByLabel(/^The address/).fill(orders.rows[0]?.address ?? '')
  await page.getByRole('button', { name: 'Send me the way in' }).click()
  await page.getByText('Look into your mailbox').waitFor()
  let way = ''
  while (way === '') {
    const mails = (await (await page.request.get('/api/inbox')).json()) as { id: number; subject: string }[]
    const mail = mails.find(({ subject }) => subject.startsWith('Your way in'))
    const read =
      mail && ((await (await page.request.get(`/api/inbox/${mail.id}`)).json()) as { text: string })
    way = /\/mine\/in\/\S+/.exec(read?.text ?? '')?.[0] ?? ''
    await page.waitForTimeout(200)
  }
  await page.goto(way)
  await page.getByRole('heading', { name: 'What you bought' }).waitFor()
  await shoot(page, 'buyers-area')
}

/** Main views in the order of the README. */
async function walk(page: Page): Promise<void> {
  await page.goto('/app/today')
  await page.getByLabel('Password').waitFor()
  await signIn(page)
  await page.getByRole('region', { name: 'Departures, by time' }).waitFor()
  await shoot(page, 'today')

  await page.getByRole('link', { name: 'People', exact: true }).click()
  await page.getByRole('cell', { name: 'subscribed' }).first().waitFor()

  await page.goto('/app/people/12')
  await page.getByRole('heading', { name: 'Score' }).waitFor()
  await shoot(page, 'person')

  // The person's screen has links of the same name.
  await page.goto('/app/funnels')
  await page.getByRole('link', { name: 'Template pack' }).click()
  await page.getByRole('button', { name: /^Template pack landing page/ }).click()
  await page.waitForTimeout(2_000)
  await shoot(page, 'funnel')
  await page.goto('/app/funnels')
  await page.getByRole('link', { name: 'Autumn Atelier' }).click()
  await page.getByText(/^\d+ of \d+ done$/).waitFor()
  await page.getByRole('button', { name: /to fix/ }).click()
  await page.getByText('Keeps it from going live').waitFor()
  await shoot(page, 'departure-check')

  await page.getByRole('link', { name: 'Follow-ups', exact: true }).click()
  await page.getByRole('button', { name: 'New follow-up' }).waitFor()
  await page.getByRole('link', { name: 'Template pack' }).click()
  await page.getByRole('button', { name: 'Wait 2 days from the step before.' }).first().click()
  await shoot(page, 'timetable')
  await page.getByRole('tab', { name: 'Rehearsal' }).click()
  await page.getByText('gets “Stitch along on Sunday”').waitFor()
  await shoot(page, 'rehearsal')

  await page.getByRole('link', { name: 'Library', exact: true }).click()
  await page.getByRole('link', { name: 'Template pack', exact: true }).waitFor()
  await page.getByRole('link', { name: 'Template pack', exact: true }).click()
  await page.frameLocator('iframe[title^="The page as"]').locator('h1').click()
  await shoot(page, 'page-editor')
  await page.goto('/app/library/forms')
  await page.getByRole('link', { name: 'Template pack', exact: true }).click()
  await page.frameLocator('iframe').getByLabel('Email address').waitFor()
  await page.getByRole('button', { name: 'Email address', exact: true }).click()
  await shoot(page, 'form-editor')
  await page.goto('/app/library/emails')
  // Only the rows that one sees are drawn.
  await page
    .getByLabel(/^Search/)
    .first()
    .fill('Sunday')
  await page.getByRole('link', { name: 'Sunday, live', exact: true }).click()
  await page.frameLocator('iframe').locator('.b.sessionCard').click()
  await shoot(page, 'email-editor')
  await page.goto('/app/library/products')
  await page.getByRole('link', { name: 'Bind Your First Journal' }).click()
  await page.getByRole('button', { name: 'In three payments' }).click()
  await shoot(page, 'product')
  await page.goto('/app/results/orders')
  await page.getByText('in 30 days').waitFor()
  await page.getByRole('row').nth(3).waitFor()
  await shoot(page, 'orders')
  await page
    .getByRole('row', { name: /Bind Your First Journal.*paid/ })
    .first()
    .getByRole('link')
    .first()
    .click()
  await page.getByRole('heading', { name: 'What was bought' }).waitFor()
  await shoot(page, 'order')
  await page.goBack()
  await page.getByRole('tab', { name: 'Left carts' }).click()
  await page.getByRole('row').nth(3).waitFor()
  await shoot(page, 'recovery')
  await page.goto('/app/library/courses')
  await page.getByRole('region', { name: 'Bind Your First Journal' }).waitFor()
  await shoot(page, 'course')
  await page.goto('/app/library/junctions')
  await page.getByRole('link', { name: 'Fair table card' }).click()
  await page.locator('[data-row]').nth(1).click()
  await page.locator('[data-row] .people', { hasText: /\d/ }).first().waitFor()
  await shoot(page, 'junction')
  await page.goto('/app/library/quizzes')
  await page.getByRole('link', { name: 'Which binding suits you?' }).click()
  await page.getByRole('button', { name: 'Which spine would you leave on the table?' }).click()
  await page.getByText('every result can be got').waitFor()
  await page.waitForTimeout(1_000)
  await shoot(page, 'score-sheet')
  await shootOrder(page)
  await shootBuyersArea(page)
  await page.goto('/app/today')
  await page.getByRole('link', { name: 'Outbox', exact: true }).click()
  await page.getByRole('tab', { name: 'Broadcasts' }).click()
  await page.getByRole('link', { name: /paste or glue/ }).click()
  await page.getByRole('heading', { name: 'Split test' }).waitFor()
  await shoot(page, 'broadcast')
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
