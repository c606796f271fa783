import { expect, type Locator, type Page } from '@playwright/test'
import { saved, sheet } from './editor.ts'

/** What somebody does with mouse and keyboard, counted: a click, a field that is filled, something that is picked. */
export function countedHand() {
  let actions = 0
  return {
    get actions() {
      return actions
    },
    async click(what: Locator): Promise<void> {
      actions += 1
      await what.click()
    },
    async fill(what: Locator, words: string): Promise<void> {
      actions += 1
      await what.fill(words)
    },
    async type(page: Page, words: string): Promise<void> {
      actions += 1
      await page.keyboard.type(words)
    },
    async pick(what: Locator, file: { name: string; mimeType: string; buffer: Buffer }): Promise<void> {
      actions += 1
      await what.setInputFiles(file)
    },
    async back(page: Page): Promise<void> {
      actions += 1
      await page.goBack()
    },
  }
}

/** A small file that somebody has made themselves. */
export const ownFile = {
  name: 'three-folds.txt',
  mimeType: 'text/plain',
  buffer: Buffer.from('Fold along the grain, then press with the bone.'),
}

/**
 * From the list of funnels to a live free-file funnel with own words and an own file.
 * @param page where the list of funnels is open
 * @returns how many actions it took
 */
export async function makeFreeFile(page: Page, name: string): Promise<number> {
  const hand = countedHand()
  await hand.click(page.getByRole('button', { name: 'New funnel' }))
  await expect(page.getByLabel('Name', { exact: true })).toBeFocused()
  await hand.fill(page.getByLabel('Name', { exact: true }), name)
  await hand.click(page.getByRole('button', { name: 'Make funnel' }))

  const left = page.getByRole('region', { name: 'What is left to do' })
  await hand.click(left.getByRole('button', { name: 'Choose the file' }))
  await hand.pick(left.locator('input[type=file]'), ownFile)
  await expect(left.getByText('Choose the file')).toHaveCount(1)
  await expect(left.getByRole('button', { name: 'Choose the file' })).toHaveCount(0)

  // The words of the page where the address is left.
  await hand.click(left.getByRole('link', { name: 'Write “landing page”' }))
  await hand.click(sheet(page).locator('h1'))
  await page.keyboard.press('Control+a')
  await hand.type(page, 'Three folds, one booklet')
  await hand.click(sheet(page).locator('.b.text'))
  await hand.type(page, 'For everybody with a sheet of paper and ten minutes.')
  await hand.click(sheet(page).locator('.b.list'))
  const inspector = page.getByRole('complementary', { name: 'Inspector' })
  for (const [i, words] of [
    'Which way paper wants to bend',
    'The three folds',
    'How to press them',
  ].entries())
    await hand.fill(inspector.getByLabel(`point ${i + 1}`, { exact: true }), words)
  await saved(page)
  await hand.back(page)

  // And of the email that brings the file.
  await hand.click(left.getByRole('link', { name: 'Write “here is your file”' }))
  await hand.click(sheet(page).locator('.b.text').nth(1))
  await page.keyboard.press('Control+a')
  await hand.type(page, 'Here are the three folds. Begin with the second one: it is the easiest.')
  await saved(page)
  await hand.back(page)

  await hand.click(page.getByRole('button', { name: /to fix$/ }))
  await hand.click(page.getByRole('button', { name: /^Mend all/ }))
  await expect(page.getByText('Keeps it from going live')).toHaveCount(0)
  await hand.click(page.getByRole('button', { name: 'Go live' }))
  await expect(page.getByRole('button', { name: 'Go live' })).toHaveCount(0)
  return hand.actions
}

/** A stranger leaves their address on a page. */
export async function signUp(
  visitor: Page,
  path: string,
  address: string,
  { firstName = 'Imke', button = 'Send it to me' }: { firstName?: string; button?: string } = {},
): Promise<void> {
  await visitor.goto(`/p/${path}`)
  await visitor.getByLabel('First name').fill(firstName)
  await visitor.getByLabel('Email address').fill(address)
  await visitor.getByLabel(/Yes, you may write to me/).check()
  // Nobody types as fast: a form that is sent at once asks to be sent again.
  await visitor.waitForTimeout(1_500)
  await visitor.getByRole('button', { name: button }).click()
}
