import type { Between } from '../../core/quizzes/proof/chances.ts'
import type { ResultProof } from '../../core/quizzes/proof/quizProof.ts'

const percent = (of: number): string => {
  const value = of * 100
  return value > 0 && value < 1
    ? value.toFixed(1)
    : value > 99 && value < 100
      ? value.toFixed(1)
      : value.toFixed(0)
}

/** How likely something is, in words; a range where nobody can say it exactly. */
export function betweenWords({ least, most }: Between): string {
  const [low, high] = [percent(least), percent(most)]
  return low === high ? `${low} %` : `${low} to ${high} %`
}

/** How likely a result is. */
export function chanceWords(proved: ResultProof | undefined): string {
  if (!proved) return '…'
  if (proved.isReached === false) return 'never'
  return proved.chance ? betweenWords(proved.chance) : 'too many ways'
}
