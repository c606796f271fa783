import type { QuizContent } from '../quiz.ts'
import { optionsOf } from './options.ts'

/** How many questions people meet who answer so that it is over soonest, and latest. */
export interface PathLengths {
  shortest: number
  longest: number
}

/** The shortest and the longest way through a quiz: question by question over what will be skipped. */
export function pathLengths(content: QuizContent): PathLengths {
  let ways = new Map<string, { skips: ReadonlySet<string>; lengths: PathLengths }>([
    ['', { skips: new Set(), lengths: { shortest: 0, longest: 0 } }],
  ])
  for (const question of content.questions) {
    const skippedAfter = (answers: readonly string[]): string[] =>
      content.questions
        .filter(({ skippedBy }) => skippedBy.some((id) => answers.includes(id)))
        .map(({ id }) => id)
    const differing = new Map(
      optionsOf(question, content, null).map(({ answers }) => {
        const skips = skippedAfter(answers)
        return [skips.join(), skips]
      }),
    )
    const next: typeof ways = new Map()
    for (const { skips, lengths } of ways.values()) {
      const isSkipped = skips.has(question.id)
      for (const more of isSkipped ? [[]] : differing.values()) {
        const after = new Set([...skips, ...more])
        after.delete(question.id)
        const key = [...after].sort().join()
        const one = isSkipped ? 0 : 1
        const known = next.get(key)?.lengths
        next.set(key, {
          skips: after,
          lengths: {
            shortest: Math.min(known?.shortest ?? Infinity, lengths.shortest + one),
            longest: Math.max(known?.longest ?? 0, lengths.longest + one),
          },
        })
      }
    }
    ways = next
  }
  const all = [...ways.values()].map(({ lengths }) => lengths)
  return {
    shortest: Math.min(...all.map(({ shortest }) => shortest)),
    longest: Math.max(...all.map(({ longest }) => longest)),
  }
}
