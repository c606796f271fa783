import { paymentFailure, type PaymentFailure } from '../../contract/gateway.ts'

/** What buyers are told, and what they can do. Their cart is kept in each case. */
const words: Readonly<Record<PaymentFailure, string>> = {
  declined: 'Your card was declined. Nothing was paid. Try another card, or ask your bank.',
  insufficientFunds: 'There is not enough money on this card. Nothing was paid. Try another card.',
  expired: 'Your card has expired. Nothing was paid. Try another card.',
  notConfirmed: 'You did not confirm the payment with your bank. Nothing was paid. Try again if you like.',
  noCard: 'Type the details of your card.',
  cancelled: 'Your bank did not answer, and the payment was called off. Nothing was paid. Please try again.',
  away: 'Payments cannot be taken at the moment. Nothing was paid, and your cart is kept. Please try again in a few minutes.',
  refused:
    'This payment could not be taken. Nothing was paid, and your cart is kept. Please try again later.',
}

/** @returns null for what is no reason */
export function failureWords(reason: string): string | null {
  const read = paymentFailure.safeParse(reason)
  return read.success ? words[read.data] : null
}
