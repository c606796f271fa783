import { expect, type Page } from '@playwright/test'
import { signInOf } from '../demo/accounts.ts'

type Cookies = Awaited<ReturnType<ReturnType<Page['context']>['cookies']>>

/** What the first sign-in left with the browser: others go on with it, as a browser that is opened again would. */
let kept: Cookies = []

/** Signs in as the demo's owner and goes somewhere. */
export async function signIn(page: Page, to = '/app/today'): Promise<void> {
  if (kept.length > 0) {
    await page.context().addCookies(kept)
    await page.goto(to)
    return
  }
  await page.goto(to)
  await page.getByLabel('Email address').fill(signInOf.address)
  await page.getByLabel('Password').fill(signInOf.password)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading', { level: 1 })).not.toHaveText('Nurtel')
  kept = await page.context().cookies()
}
