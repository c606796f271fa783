import { chromium as engine } from '@playwright/test'
import { chromium } from '../e2e/browser.ts'
import { startDemo } from '../e2e/demo.ts'
import { openMail, signIn } from '../e2e/marketer.ts'
import { makeFreeFile, signUp } from '../e2e/newcomer.ts'
import { report } from './report.ts'

/** What it takes somebody new to get from the list of funnels to a live free-file funnel. */
export async function newcomer(): Promise<void> {
  const demo = await startDemo()
  const browser = await engine.launch(chromium)
  try {
    const context = await browser.newContext({ baseURL: demo.url, viewport: { width: 1280, height: 800 } })
    const page = await context.newPage()
    await signIn(page, '/app/funnels')
    const actions = await makeFreeFile(page, 'Three folds')
    const visitor = await (await browser.newContext({ baseURL: demo.url })).newPage()
    await signUp(visitor, 'three-folds', 'imke@newcomer.test')
    await openMail(page, 'imke@newcomer.test', 'Here is Three folds')
    report(
      'newcomer',
      [{ what: 'clicks, fields and picks until a free-file funnel is live', ours: String(actions) }],
      { actions },
    )
  } finally {
    await browser.close()
    await demo.stop()
  }
}
