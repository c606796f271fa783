import type { CardFailure } from '../../contract/gateway.ts'

/** What a test card does. */
export type CardBehaviour =
  | 'approved'
  | 'declined'
  | 'confirm'
  | 'insufficientFunds'
  | 'expired'
  | 'late'
  | 'twice'
  | 'never'
  | 'disputed'

/** Cards that nobody has: numbers of no bank, valid by their check digit. */
export const testCards: Readonly<Record<CardBehaviour, string>> = {
  approved: '9010001000000007',
  declined: '9010002000000005',
  confirm: '9010003000000003',
  insufficientFunds: '9010004000000001',
  expired: '9010005000000008',
  late: '9010006000000006',
  twice: '9010007000000004',
  never: '9010008000000002',
  disputed: '9010009000000000',
}

/** Why a card is refused that is always refused. */
export const failureOf: Readonly<Record<CardBehaviour, CardFailure | null>> = {
  approved: null,
  declined: 'declined',
  confirm: null,
  insufficientFunds: 'insufficientFunds',
  expired: 'expired',
  late: null,
  twice: null,
  never: null,
  disputed: null,
}

/** The check digit of card numbers (ISO/IEC 7812-1, annex B). */
export function hasCheckDigit(digits: string): boolean {
  const sum = Array.from(digits)
    .reverse()
    .reduce((all, digit, i) => {
      const doubled = Number(digit) * (i % 2 === 0 ? 1 : 2)
      return all + (doubled > 9 ? doubled - 9 : doubled)
    }, 0)
  return /^\d{12,19}$/.test(digits) && sum % 10 === 0
}

/** What a card of this number does; null when it is no test card. */
export const behaviourOf = (digits: string): CardBehaviour | null =>
  (Object.keys(testCards) as CardBehaviour[]).find((each) => testCards[each] === digits) ?? null
