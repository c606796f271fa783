/** A benchmark, with the options that follow its name. */
export type Bench = (args: string[]) => Promise<void>

/** One line of a benchmark's table: what was measured, and the yardstick beside it if it has one. */
export interface Measured {
  what: string
  ours: string
  yardstick?: string
}

/** What one part of a benchmark found. */
export interface Found {
  lines: Measured[]
  figures: Record<string, number>
}

/** Prints the table for people, and last the figures for programs. */
export function report(bench: string, lines: readonly Measured[], figures: Record<string, number>): void {
  const widest = Math.max(...lines.map(({ what }) => what.length))
  for (const { what, ours, yardstick } of lines)
    console.log(`${what.padEnd(widest)}  ${ours.padStart(14)}${yardstick ? `   beside ${yardstick}` : ''}`)
  console.log(JSON.stringify({ bench, figures }))
}

/** The value below which a share of the measurements lies (nearest rank). */
export function quantile(measurements: readonly number[], share: number): number {
  const sorted = [...measurements].sort((a, b) => a - b)
  return sorted[Math.max(0, Math.ceil(share * sorted.length) - 1)] ?? Number.NaN
}

export const round = (value: number, digits = 1): number => Number(value.toFixed(digits))
