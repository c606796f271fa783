import { AxeBuilder } from '@axe-core/playwright'
import { expect, type Page } from '@playwright/test'
import { paleButtons } from './contrast.ts'

/**
 * WCAG 2.2 A and AA and the checker's best practices: nothing may be found. Received emails lie in frames that
 * run no script, not even the checker's.
 * @param besides what else is not looked at
 */
export async function expectNoFindings(page: Page, besides: string[] = []): Promise<void> {
  // Only what is wrong is reported, and frames of other origins, of which there are none, are not sought: a quarter
  // of the time.
  const builder = new AxeBuilder({ page })
  for (const part of ['iframe', ...besides]) builder.exclude(part)
  const { violations } = await builder
    .options({ resultTypes: ['violations'] })
    .setLegacyMode(true)
    .analyze()
  expect(await paleButtons(page)).toEqual([])
  expect(violations.map(({ id, nodes }) => `${id}: ${nodes.map((node) => node.html).join('\n')}`)).toEqual([])
}
