import { z } from 'zod'

const amount = z.number().int()

/** What stands on an invoice or a credit note: kept as it was issued, whatever changes later. */
export const invoiceContent = z.object({
  currency: z.string(),
  seller: z.object({ name: z.string(), postalAddress: z.string(), country: z.string().nullable() }),
  buyer: z.object({
    name: z.string(),
    address: z.string(),
    country: z.string().nullable(),
    vatNumber: z.string().nullable(),
  }),
  order: z.number().int(),
  /** The invoice that a credit note takes back. */
  of: z.number().int().nullable(),
  /** Such as “payment 2 of 3”. */
  note: z.string(),
  lines: z.array(
    z.object({
      title: z.string(),
      description: z.string(),
      words: z.string(),
      /** In hundredths of a per cent. */
      rate: z.number().int(),
      net: amount,
      tax: amount,
      total: amount,
    }),
  ),
  net: amount,
  tax: amount,
  total: amount,
})
export type InvoiceContent = z.infer<typeof invoiceContent>

/** What of each rate is tax, as invoices list it. */
export function taxByRate({
  lines,
}: Pick<InvoiceContent, 'lines'>): { rate: number; net: number; tax: number }[] {
  const rates = new Map<number, { rate: number; net: number; tax: number }>()
  for (const { rate, net, tax } of lines) {
    const known = rates.get(rate) ?? { rate, net: 0, tax: 0 }
    rates.set(rate, { rate, net: known.net + net, tax: known.tax + tax })
  }
  return [...rates.values()].sort((a, b) => b.rate - a.rate)
}
