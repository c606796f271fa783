import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'

/** The script of public pages: countdown, videos of others and consent. Pages are complete without it. */
const source = readFileSync(new URL('page.js', import.meta.url), 'utf8')

const edition = createHash('sha256').update(source).digest('hex').slice(0, 10)

export const pageScript = { source, path: `/assets/page-${edition}.js` }
