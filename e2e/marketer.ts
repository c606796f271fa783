import { expect, type Locator, type Page } from '@playwright/test'
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
  await fillFirst(page.getByLabel('Email address'), signInOf.address)
  await page.getByLabel('Password').fill(signInOf.password)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading', { level: 1 })).not.toHaveText('Nurtel')
  kept = await page.context().cookies()
}

/** Fills the field that takes the focus by itself when it comes up: what is typed before that goes astray. */
export async function fillFirst(field: Locator, value: string): Promise<void> {
  await expect(field).toBeFocused()
  await field.fill(value)
}

/** Types the name of something new. */
export const giveName = (page: Page, name: string): Promise<void> =>
  fillFirst(page.getByLabel('Name', { exact: true }), name)

/** Opens the newest email to an address in the test inbox. */
export async function openMail(page: Page, address: string, subject: string): Promise<void> {
  await page.getByRole('link', { name: 'Outbox', exact: true }).click()
  await page.getByRole('tab', { name: 'Test inbox' }).click()
  await page.getByLabel('Search by subject or address').fill(address)
  await page.getByRole('link', { name: new RegExp(`${subject}.*${address}`) }).click()
  await expect(page.getByRole('heading', { name: subject, level: 2 })).toBeVisible()
}
