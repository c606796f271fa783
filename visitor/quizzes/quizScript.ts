import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'

/** The script of quizzes: questions follow each other without loading pages. */
const source = readFileSync(new URL('quiz.js', import.meta.url), 'utf8')

const edition = createHash('sha256').update(source).digest('hex').slice(0, 10)

export const quizScript = { source, path: `/assets/quiz-${edition}.js` }
