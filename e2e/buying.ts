import { expect, type Browser, type Page } from '@playwright/test'

/** Test cards of the gateway. */
export const cards = { approved: '9010001000000007', declined: '9010002000000005' } as const

/** Types a test card into the gateway's own fields. */
export async function typeCard(page: Page, number: string = cards.approved): Promise<void> {
  const card = page.frameLocator('iframe[title="Your card"]')
  await card.getByLabel('Card number').fill(number)
  await card.getByLabel('Expires').fill('12/39')
  await card.getByLabel('Security code').fill('123')
}

/** Says who buys, on the first of two steps. */
export async function sayWho(page: Page, firstName: string, address: string): Promise<void> {
  await page.getByLabel('Email', { exact: true }).fill(address)
  await page.getByLabel('First name').fill(firstName)
  await page.getByRole('button', { name: 'Go on' }).click()
  await expect(page.getByText(`For ${address}`)).toBeVisible()
}

/** Pays with a card that is approved, by keyboard. */
export async function pay(page: Page, label: string): Promise<void> {
  await typeCard(page)
  await page.getByRole('button', { name: label }).press('Enter')
}

/** Somebody in a browser of their own at a page of the public site. */
export async function visitorAt(browser: Browser, path: string): Promise<Page> {
  const page = await (await browser.newContext()).newPage()
  await page.goto(path)
  return page
}
