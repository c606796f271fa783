/** What was typed as a number: empty is nothing; null when it is no number that a cell can hold. */
export function typedNumber(typed: string): number | null {
  const text = typed.trim().replace(',', '.')
  const value = text === '' ? 0 : Number(text)
  return Number.isFinite(value) && Math.abs(value) <= 1e9 ? Math.round(value * 1_000) / 1_000 : null
}

/** A number as a cell shows it: nothing stays empty. */
export const shownNumber = (value: number | null | undefined): string => (value ? String(value) : '')
