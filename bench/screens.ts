import { chromium as engine, type BrowserContext, type Page } from '@playwright/test'
import { chromium } from '../e2e/browser.ts'
import { startDemo } from '../e2e/demo.ts'
import { signIn } from '../e2e/marketer.ts'
import { todayScript } from '../testing/todayScript.ts'
import { quantile, report, round, type Measured } from './report.ts'
import { clickAt, interactionsOf, recordInteractions } from './screens/interactions.ts'
import { plainPage } from './screens/plainPage.ts'

const lines = 30
const times = 20

/** Milliseconds of each interaction, by what was done. */
type ByKind = Record<string, number[]>

const kindsOf = (found: ByKind): Measured[] =>
  Object.entries(found).map(([kind, each]) => ({
    what: `  ${kind}, the median and the slowest of ${each.length}`,
    ours: `${quantile(each, 0.5)} / ${quantile(each, 1)} ms`,
  }))

/** Interactions with the list of people: ticking, sorting, stepping through pages, searching. */
async function measureList(page: Page): Promise<ByKind> {
  await page.goto('/app/people')
  const box = page.getByRole('checkbox', { name: /^Select (?!all)/ })
  await box.nth(12).waitFor()
  const ticking = await interactionsOf(page, times, (i) => clickAt(box.nth(i % 12)))
  const sorting = await interactionsOf(page, times, () =>
    clickAt(page.getByRole('columnheader', { name: /Name/ })),
  )
  const stepping = await interactionsOf(page, times, async (i) => {
    await clickAt(page.getByRole('button', { name: i % 2 === 0 ? 'Next' : 'Previous', exact: true }))
    // The rows are there, and drawn, before the next step.
    await page.waitForTimeout(200)
  })
  await page.getByRole('textbox', { name: 'Search by name or address' }).focus()
  const searching = await interactionsOf(page, times, (i) =>
    page.keyboard.press(i % 2 === 0 ? 'a' : 'Backspace'),
  )
  return { ticking, sorting, stepping, searching }
}

/** Interactions with a condition of thirty lines: another condition, a number typed, negated, a line more, one less. */
async function measureBuilder(page: Page): Promise<ByKind> {
  await page.goto('/app/people')
  await page.getByRole('button', { name: 'Filter', exact: true }).click()
  const builder = page.getByRole('region', { name: 'Filter' })
  const condition = builder.getByLabel('Condition')
  await condition.fill('clicked in')
  await page.getByRole('option', { name: 'clicked in', exact: true }).click()
  while ((await condition.count()) < lines)
    await builder.getByRole('button', { name: 'Add condition' }).click()

  const choosing = await interactionsOf(page, times, async (i) => {
    await condition.nth(i).focus()
    await page.keyboard.press('ArrowDown')
    const option = page.getByRole('option', { name: 'clicked in', exact: true })
    await option.waitFor()
    await clickAt(option)
    await option.waitFor({ state: 'hidden' })
  })
  const typing = await interactionsOf(page, times, async (i) => {
    await builder.getByLabel('Times').nth(i).focus()
    await page.keyboard.press('5')
  })
  const negating = await interactionsOf(page, times, (i) =>
    clickAt(builder.getByRole('button', { name: `Negate line ${i + 1}`, exact: true })),
  )
  const growing = await interactionsOf(page, times, async () => {
    await clickAt(builder.getByRole('button', { name: 'Add condition' }))
    await clickAt(builder.getByRole('button', { name: `Remove line ${lines + 1}`, exact: true }))
  })
  return { choosing, typing, negating, growing }
}

/** The yardstick: the browser's own controls, as many, on a page that does nothing else. */
async function measurePlain(page: Page): Promise<number[]> {
  await page.setContent(plainPage(lines))
  const boxes = page.getByRole('checkbox')
  return [
    ...(await interactionsOf(page, times, (i) => clickAt(boxes.nth(i)))),
    ...(await interactionsOf(page, times, async (i) => {
      await page.getByRole('spinbutton').nth(i).focus()
      await page.keyboard.press('5')
    })),
  ]
}

/** How fluent the two heaviest screens are, and how much Today needs before it is there. */
export async function screens(): Promise<void> {
  const demo = await startDemo()
  const browser = await engine.launch(chromium)
  const newContext = (): Promise<BrowserContext> =>
    browser.newContext({ baseURL: demo.url, viewport: { width: 1280, height: 800 } })
  try {
    const context = await newContext()
    const page = await context.newPage()
    await recordInteractions(page)
    await signIn(page)
    const byList = await measureList(page)
    const byBuilder = await measureBuilder(page)
    const [list, builder] = [byList, byBuilder].map((found) => Object.values(found).flat()) as [
      number[],
      number[],
    ]
    const plain = await measurePlain(page)

    const visitor = await newContext()
    await visitor.addCookies(await context.cookies())
    const today = await todayScript(await visitor.newPage())

    const figures = {
      list_ms: round(quantile(list, 0.95)),
      builder_ms: round(quantile(builder, 0.95)),
      plain_ms: round(quantile(plain, 0.95)),
      today_kb: round(today),
    }
    const yardstick = `the browser’s own controls: ${figures.plain_ms} ms`
    report(
      'screens',
      [
        {
          what: `list of people, 50 rows: 95 of 100 of ${list.length} interactions`,
          ours: `${figures.list_ms} ms`,
          yardstick,
        },
        ...kindsOf(byList),
        {
          what: `condition of ${lines} lines: 95 of 100 of ${builder.length} interactions`,
          ours: `${figures.builder_ms} ms`,
          yardstick,
        },
        ...kindsOf(byBuilder),
        { what: 'JavaScript of Today, gzip', ours: `${figures.today_kb} kB` },
      ],
      figures,
    )
  } finally {
    await browser.close()
    await demo.stop()
  }
}
