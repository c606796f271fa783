import type { Page } from '@playwright/test'
import { signInOf } from '../demo/accounts.ts'

/** Signs in as the demo's owner. */
export async function signIn(page: Page): Promise<void> {
  await page.goto('/app/today')
  await page.getByLabel('Email address').fill(signInOf.address)
  await page.getByLabel('Password').fill(signInOf.password)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.getByRole('heading', { name: 'Today', level: 1 }).waitFor()
}
