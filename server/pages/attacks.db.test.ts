import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { blockKinds } from '../../core/blocks/block.ts'
import { anyDocument, attacks, contentOf } from '../../testing/documents.ts'
import { dangersIn, faultsOf } from '../../testing/markup.ts'
import { lookAt } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'

const on = useInstall({ worker: false })

interface Place {
  version: number
  revision: number
}

/** Replaces the n-th text of a JSON value, whatever it is, by an attack. */
function withTextAt(value: unknown, at: { left: number }, attack: string): unknown {
  if (typeof value === 'string') {
    at.left -= 1
    return at.left === -1 ? attack : value
  }
  if (Array.isArray(value)) return value.map((each) => withTextAt(each, at, attack))
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(Object.entries(value).map(([name, each]) => [name, withTextAt(each, at, attack)]))
}

/** Without the sign that no text of the database may hold: whatever has that is refused as a whole. */
const storable = (value: unknown): unknown => JSON.parse(JSON.stringify(value).replaceAll('\\u0000', ''))

describe('what is saved through the API, whatever it is', () => {
  it('is refused with the field that is wrong, or comes out as valid HTML that runs nothing and asks nobody', async () => {
    const begun = await on.mara.post('/pages', {
      name: 'Attacked',
      path: 'attacked',
      purpose: 'any',
      content: contentOf({ sections: [] }),
    })
    const { id } = (await begun.json()) as { id: number }
    const { url } = (await (await on.mara.post(`/pages/${id}/preview-link`)).json()) as { url: string }
    let place: Place = { version: 1, revision: 1 }
    const [kept, refused] = [new Set<string>(), { count: 0 }]
    await fc.assert(
      fc.asyncProperty(
        anyDocument,
        fc.constantFrom(...attacks),
        fc.nat({ max: 120 }),
        async (document, attack, at) => {
          const content = storable(withTextAt(contentOf(document, attack), { left: at }, attack))
          const answer = await on.mara.post(`/pages/${id}/save`, { ...place, content })
          if (answer.status !== 200) {
            // Such as a link of a kind that is none: said by the field, and nothing is changed.
            const problem = (await answer.json()) as { title: string; fields?: object }
            expect([answer.status, Object.keys(problem.fields ?? {}).length > 0]).toEqual([422, true])
            refused.count += 1
            return
          }
          place = (await answer.json()) as Place
          for (const section of document.sections)
            for (const column of section.columns) for (const { kind } of column.blocks) kept.add(kind)
          const page = await lookAt(url)
          const markup = await page.text()
          expect(faultsOf(markup)).toEqual([])
          expect(dangersIn(markup, on.install.url)).toEqual([])
          expect(page.headers.get('content-security-policy')).toMatch(
            /^default-src 'none'; style-src 'sha256-/,
          )
        },
      ),
      { numRuns: 60 },
    )
    // Nearly all kinds were stored and drawn, and some contents were refused: both ways were gone.
    expect(kept.size).toBeGreaterThan(blockKinds.length - 5)
    expect(refused.count).toBeGreaterThan(0)
  })
})
