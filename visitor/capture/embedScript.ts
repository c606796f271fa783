import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { rulesOf, type PopUpRules } from '../../core/capture/popUp.ts'
import type { Site } from '../../server/pages/site.ts'

/** The script that shows forms and pop-ups. */
const source = readFileSync(new URL('embed.js', import.meta.url), 'utf8')

const edition = createHash('sha256').update(source).digest('hex').slice(0, 10)

/** As our own pages have it. */
export const embedScript = { source, path: `/assets/embed-${edition}.js` }

/** What must not end a script or begin markup in one. */
const inScript = (value: unknown): string =>
  JSON.stringify(value).replace(
    /[<>\u2028\u2029]/g,
    (sign) => `\\u${sign.charCodeAt(0).toString(16).padStart(4, '0')}`,
  )

/** As sites of others have it: with the rules of the pop-ups that they show, so that nothing is asked before one is due. */
export function embedScriptFor({ popUps }: Site): string {
  const rules: PopUpRules[] = popUps
    .filter(({ content }) => content.elsewhere)
    .map(({ key, content }) => rulesOf(key, content))
  return source.replace('const elsewhere = []', `const elsewhere = ${inScript(rules)}`)
}
