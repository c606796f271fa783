import { chromium as engine, type Page } from '@playwright/test'
import type { Program } from '../../core/followups/program.ts'
import type { Step } from '../../core/followups/step.ts'
import { chromium } from '../../e2e/browser.ts'
import { signIn } from '../../e2e/marketer.ts'
import { quantile, round, type Found } from '../report.ts'
import { clickAt, interactionsOf, recordInteractions } from '../screens/interactions.ts'

const times = 20

const waitDays = (id: string, amount: number): Step => ({ kind: 'waitFor', id, amount, unit: 'days' })
const line = (name: string, steps: number, email: number): Step[] =>
  Array.from({ length: steps }, (_, i) =>
    i % 2 === 0 ? waitDays(`${name}w${i}`, 1 + (i % 3)) : { kind: 'send', id: `${name}s${i}`, email },
  )

/** A year of letters: forty steps. */
const year = (email: number): Step[] =>
  Array.from({ length: 40 }, (_, i) =>
    i % 2 === 0 ? waitDays(`w${i}`, 17) : { kind: 'send', id: `s${i}`, email },
  )

/** Two hundred steps on six lanes besides the main one. */
function wide(email: number): Step[] {
  const lane = (name: string) => ({ label: `Lane ${name}`, steps: line(name, 28, email) })
  const when = { kind: 'did', activity: 'emailClicked', details: {}, atLeast: 1 } as const
  return [
    ...line('m', 28, email),
    {
      kind: 'branch',
      id: 'six',
      arms: ['a', 'b', 'c', 'd', 'e'].map((name) => ({ ...lane(name), when })),
      otherwise: lane('f'),
    },
    { kind: 'end', id: 'end' },
  ]
}

async function makeFollowup(page: Page, name: string, steps: Step[]): Promise<number> {
  const content: Program = { startsWhen: [], reentry: 'never', leavesWhen: [], zone: 'Europe/Dublin', steps }
  return page.evaluate(
    async (body) => {
      const me = (await (await fetch('/api/auth/me')).json()) as { csrfToken: string }
      const answer = await fetch('/api/followups', {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'x-nurtel-csrf': me.csrfToken },
        body: JSON.stringify(body),
      })
      return ((await answer.json()) as { id: number }).id
    },
    { name, content },
  )
}

/** A rehearsal of twelve months and forty steps, and edits of a timetable of two hundred, in Chromium. */
export async function measureScreens(url: string): Promise<Found> {
  const browser = await engine.launch(chromium)
  const context = await browser.newContext({ baseURL: url, viewport: { width: 1280, height: 800 } })
  const page = await context.newPage()
  await recordInteractions(page)
  await signIn(page, '/app/follow-ups')
  const email = 1
  const rehearsed = await makeFollowup(page, 'A year of letters', year(email))
  await page.goto(`/app/follow-ups/${rehearsed}/rehearsal`)
  const list = page.getByRole('list', { name: 'What happens, in order' })
  await list.getByRole('listitem').nth(30).waitFor()
  const someone = page.getByRole('combobox', { name: 'Somebody who' })
  for (let i = 0; i < times; i += 1) {
    await someone.press('ArrowDown')
    await page
      .getByRole('option')
      .nth(i % 3)
      .click()
    await page.waitForTimeout(150)
  }
  const rehearsals = await page.evaluate(() =>
    performance.getEntriesByName('rehearsal').map(({ duration }) => duration),
  )

  const drawn = await makeFollowup(page, 'Two hundred steps', wide(email))
  await page.goto(`/app/follow-ups/${drawn}`)
  const token = (id: string) => page.locator(`#stop-${id}`)
  await token('ms1').waitFor()
  const selecting = await interactionsOf(page, times, (i) => clickAt(token(`ms${1 + 2 * (i % 3)}`)))
  await clickAt(token('ms1'))
  const moving = await interactionsOf(page, times, (i) =>
    page.keyboard.press(i % 2 === 0 ? 'Alt+ArrowRight' : 'Alt+ArrowLeft'),
  )
  const undoing = await interactionsOf(page, times, (i) =>
    page.keyboard.press(i % 2 === 0 ? 'Control+z' : 'Control+y'),
  )
  await clickAt(token('mw0'))
  const amount = page.getByRole('complementary', { name: 'Inspector' }).getByLabel('How long')
  await amount.focus()
  const typing = await interactionsOf(page, times, () => page.keyboard.press('ArrowUp'))
  await browser.close()

  const kinds = { selecting, moving, undoing, typing }
  const medians = Object.values(kinds).map((each) => quantile(each, 0.5))
  const figures = {
    rehearsal_ms: round(quantile(rehearsals, 0.5)),
    editor_ms: Math.max(...medians),
  }
  return {
    figures,
    lines: [
      {
        what: `rehearsal of twelve months and forty steps, the median and the slowest of ${rehearsals.length}`,
        ours: `${figures.rehearsal_ms} / ${round(quantile(rehearsals, 1))} ms`,
      },
      {
        what: 'an edit of a timetable of 200 steps and 7 lanes, median of the slowest kind',
        ours: `${figures.editor_ms} ms`,
      },
      ...Object.entries(kinds).map(([kind, each]) => ({
        what: `  ${kind}, the median and the slowest of ${each.length}`,
        ours: `${quantile(each, 0.5)} / ${quantile(each, 1)} ms`,
      })),
    ],
  }
}
