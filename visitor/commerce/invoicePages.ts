import PDFDocument from 'pdfkit'
import { countryName } from '../../core/audience/people/country.ts'
import { taxByRate } from '../../core/commerce/invoice.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import { dayWords } from '../../core/commerce/payments.ts'
import { html, type Html } from '../../core/html.ts'
import type { Issued } from '../../server/commerce/invoices.ts'

const rateWords = (rate: number): string => `${rate / 100} %`

/** What both forms of an invoice say, in order. */
function partsOf({ number, kind, issuedAt, content }: Issued, zone: string) {
  const { currency, seller, buyer, of, note, order } = content
  const money = (amount: number): string => moneyWords({ amount, currency })
  const country = (code: string | null): string => (code === null ? '' : countryName(code))
  return {
    title: `${kind === 'invoice' ? 'Invoice' : 'Credit note'} ${number}`,
    facts: [
      dayWords(issuedAt, zone),
      `Order ${order}`,
      ...(of === null ? [] : [`Takes back of invoice ${of}`]),
      ...(note ? [note] : []),
    ],
    seller: [seller.name, seller.postalAddress, country(seller.country)].filter(Boolean),
    buyer: [
      buyer.name,
      buyer.address,
      country(buyer.country),
      buyer.vatNumber === null ? '' : `VAT number ${buyer.vatNumber}`,
    ].filter(Boolean),
    lines: content.lines.map((line) => ({
      title: line.title,
      words: [line.description, line.words].filter(Boolean).join(' · '),
      rate: rateWords(line.rate),
      net: money(line.net),
      total: money(line.total),
    })),
    sums: [
      ['Net', money(content.net)] as const,
      ...taxByRate(content).map(({ rate, tax }) => [`Tax ${rateWords(rate)}`, money(tax)] as const),
      ['Total', money(content.total)] as const,
    ],
    reverse: buyer.vatNumber !== null && content.tax === 0 ? 'Reverse charge: the buyer pays the tax.' : '',
  }
}

/** An invoice as a page of the public site. */
export function invoiceBody(issued: Issued, zone: string, pdfHref: string): { title: string; body: Html } {
  const { title, facts, seller, buyer, lines, sums, reverse } = partsOf(issued, zone)
  const block = (words: readonly string[]): Html =>
    html`<p>${words.map((each, i) => html`${i > 0 && html`<br />`}${each}`)}</p>`
  return {
    title,
    body: html`<h1>${title}</h1>
      <p class="soft">${facts.join(' · ')}</p>
      <div class="choices">
        <div>
          <h2>From</h2>
          ${block(seller)}
        </div>
        <div>
          <h2>To</h2>
          ${block(buyer)}
        </div>
      </div>
      <table class="invoice">
        <thead>
          <tr>
            <th scope="col">What</th>
            <th scope="col">Tax</th>
            <th scope="col">Net</th>
            <th scope="col">Total</th>
          </tr>
        </thead>
        <tbody>
          ${lines.map(
            (line) =>
              html`<tr>
                <td><b>${line.title}</b><br />${line.words}</td>
                <td>${line.rate}</td>
                <td>${line.net}</td>
                <td>${line.total}</td>
              </tr>`,
          )}
        </tbody>
        <tfoot>
          ${sums.map(
            ([name, sum]) =>
              html`<tr>
                <th scope="row" colspan="3">${name}</th>
                <td>${sum}</td>
              </tr>`,
          )}
        </tfoot>
      </table>
      ${reverse && html`<p>${reverse}</p>`}
      <p><a class="button" href="${pdfHref}">Save as PDF</a></p>`,
  }
}

/** An invoice as a PDF. */
export function invoicePdf(issued: Issued, zone: string): Promise<Buffer> {
  const { title, facts, seller, buyer, lines, sums, reverse } = partsOf(issued, zone)
  return new Promise((resolve, reject) => {
    const pdf = new PDFDocument({
      size: 'A4',
      margin: 56,
      info: { Title: title, Author: issued.content.seller.name, CreationDate: issued.issuedAt },
    })
    const parts: Buffer[] = []
    pdf.on('data', (part: Buffer) => parts.push(part))
    pdf.on('end', () => resolve(Buffer.concat(parts)))
    pdf.on('error', reject)
    pdf.font('Helvetica-Bold').fontSize(20).text(title)
    pdf.font('Helvetica').fontSize(10).text(facts.join(' · ')).moveDown()
    const top = pdf.y
    pdf.text(seller.join('\n'), 56, top, { width: 230 })
    const below = pdf.y
    pdf.text(buyer.join('\n'), 310, top, { width: 230 })
    pdf.y = Math.max(below, pdf.y) + 24
    const row = (left: string, right: string, bold = false): void => {
      const at = pdf.y
      pdf.font(bold ? 'Helvetica-Bold' : 'Helvetica').fontSize(10)
      pdf.text(right, 420, at, { width: 119, align: 'right' })
      const height = pdf.y
      pdf.text(left, 56, at, { width: 350 })
      pdf.y = Math.max(height, pdf.y) + 6
    }
    for (const line of lines) {
      row(line.title, line.total, true)
      row(`${line.words}\n${line.net} net, tax ${line.rate}`, '')
    }
    pdf.y += 8
    for (const [name, sum] of sums) row(name, sum, name === 'Total')
    if (reverse) pdf.moveDown().text(reverse, 56)
    pdf.end()
  })
}
