import { expect, test } from '@playwright/test'
import { pay, sayWho } from '../buying.ts'
import { withoutNotices } from '../editor.ts'
import { beginFunnel, goLiveMended } from '../funnels.ts'
import { openMail, signIn } from '../marketer.ts'
import { signUp } from '../newcomer.ts'
import { journal, rehearse } from '../rehearsing.ts'

test.beforeEach(({ page }) => withoutNotices(page))

const opening = new Date(Date.now() + 9 * 86_400_000).toISOString().slice(0, 10)

test('a waiting list is silent until the doors open, sells four times at most, and not to who has bought', async ({
  page,
  browser,
}) => {
  await signIn(page)
  await beginFunnel(page, {
    goal: 'Open a waiting list',
    starter: /^A waiting list/,
    name: 'Marbling days',
    opens: opening,
  })

  // What nobody has made their own is found before the funnel goes live: every email that is still a draft.
  const left = page.getByRole('region', { name: 'What is left to do' })
  for (const name of ['you are on the list', 'the doors are open', 'what others say', 'last call'])
    await expect(left.getByRole('listitem').filter({ hasText: `Write “${name}”` })).toContainText(
      'These are our words',
    )
  await expect(left).toContainText('Everything of it that is a draft goes live with it')
  await goLiveMended(page)

  // On the list: a confirmation at once, and nothing else.
  const visitor = await (await browser.newContext()).newPage()
  await signUp(visitor, 'marbling-days', 'orla@walk-seventeen.test', {
    firstName: 'Orla',
    button: 'Keep me a place',
  })
  await expect(visitor.getByRole('heading', { level: 1 })).toHaveText('You are on the list')
  const orla = await rehearse(page, 'Orla')
  await expect(journal(page)).toContainText('was sent “Marbling days: you are on the list”')
  await expect(journal(page)).not.toContainText('the doors are open')
  const next = page.getByRole('button', { name: 'Jump to next' })
  const moves = 'had their clock moved ahead'
  // One jump at a time, until what was due then is decided: one too many would be a sales email too many.
  const jump = async (): Promise<void> => {
    const before = (await journal(page).innerText()).split(moves).length
    await next.click()
    await expect(async () => {
      const [since = '', ...earlier] = (await journal(page).innerText()).split(moves)
      expect(earlier).toHaveLength(before)
      expect(since).toMatch(/decided to|waits|left/)
    }).toPass()
  }
  const sent = async (name: string): Promise<void> => {
    const email = `“Marbling days: ${name}”`
    while (!(await journal(page).innerText()).includes(`decided to send ${email}`)) await jump()
    await expect(journal(page)).toContainText(`was sent ${email}`)
  }
  await sent('the doors are open')
  await expect(journal(page)).toContainText(/waits until .*09:00/)
  await sent('what others say')
  await expect(journal(page)).toContainText('waits 2 days')

  // The second email sells: on the page that it leads to.
  await openMail(page, 'orla@walk-seventeen.test', 'What others made of it')
  const link = await page
    .frameLocator('iframe')
    .getByRole('link', { name: 'Look at Marbling days' })
    .getAttribute('href')
  await visitor.goto(link ?? '')
  await sayWho(visitor, 'Orla', 'orla@walk-seventeen.test')
  await pay(visitor, 'Pay now')
  await expect(visitor.getByText(/Thank you/)).toBeVisible()
  await visitor.context().close()

  // The buyers' welcome comes; what was still to be sold never does.
  await page.goto(orla)
  await expect(journal(page)).toContainText('was sent “Marbling days: welcome, buyer”')
  await expect(journal(page)).toContainText('left the follow-up “Marbling days: until the doors close”')
  await expect(page.getByRole('region', { name: 'Follow-ups' })).toContainText(
    /Past follow-ups.*until the doors close/,
  )
  await expect(journal(page)).not.toContainText('an answer to doubts')
})
