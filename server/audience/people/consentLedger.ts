import PDFDocument from 'pdfkit'
import type { ConsentEntry } from '../../../contract/audience/people.ts'
import type { Queries } from '../../database/connect.ts'
import { getBusiness } from '../../workspace/business.ts'
import { csvLines } from './exports.ts'

type Row = Omit<ConsentEntry, 'at' | 'confirmedAt'> & { at: Date; confirmedAt: Date | null }

/** What a person agreed to or refused, newest first, with all that proves it. */
export async function consentLedger(q: Queries, contact: number): Promise<ConsentEntry[]> {
  const rows = await q.rows<Row>(
    `select consent.at, given, wording, consent.source, topic.name topic, form.name form, form_version "formVersion",
       page.name page, page_version "pageVersion", consent.site, host(sender_ip) ip, consent.confirmed_at "confirmedAt"
     from consent left join topic on topic.id = topic_id left join form on form.id = form_id
       left join page on page.id = page_id
     where contact_id = $1 order by consent.at desc, consent.id desc`,
    [contact],
  )
  return rows.map(({ at, confirmedAt, ...row }) => ({
    ...row,
    at: at.toISOString(),
    confirmedAt: confirmedAt?.toISOString() ?? null,
  }))
}

/** Where and how an entry came about, as one reads it. */
function circumstancesOf(entry: ConsentEntry): string[] {
  const version = (name: string, number: number | null): string =>
    number === null ? name : `${name}, version ${number}`
  return [
    entry.topic && `Topic: ${entry.topic}`,
    entry.form ? `Form: ${version(entry.form, entry.formVersion)}` : `By: ${entry.source}`,
    entry.page && `Page: ${version(entry.page, entry.pageVersion)}`,
    entry.site && `On the site: ${entry.site}`,
    entry.ip && `From the address: ${entry.ip}`,
    entry.confirmedAt && `Confirmed by a click in an email: ${entry.confirmedAt}`,
  ].filter((each): each is string => each !== null && each !== '')
}

const head = [
  'At',
  'Given',
  'Wording',
  'Topic',
  'Form',
  'Form version',
  'Page',
  'Page version',
  'Site',
  'Source',
  'Network address',
  'Confirmed at',
]

/** The ledger as CSV. */
export const ledgerCsv = (entries: readonly ConsentEntry[]): string =>
  csvLines([
    head,
    ...entries.map((entry) => [
      entry.at,
      entry.given ? 'yes' : 'no',
      entry.wording,
      entry.topic ?? '',
      entry.form ?? '',
      entry.formVersion ?? '',
      entry.page ?? '',
      entry.pageVersion ?? '',
      entry.site ?? '',
      entry.source,
      entry.ip ?? '',
      entry.confirmedAt ?? '',
    ]),
  ])

/** The ledger as a PDF to be printed. */
export async function ledgerPdf(
  q: Queries,
  person: { address: string; name: string },
  entries: readonly ConsentEntry[],
  at: Date,
): Promise<Buffer> {
  const { name, postalAddress } = await getBusiness(q)
  const pdf = new PDFDocument({ size: 'A4', margin: 56, info: { Title: `Consent of ${person.address}` } })
  const pieces: Buffer[] = []
  const ended = new Promise<void>((done) => pdf.on('end', () => done()))
  pdf.on('data', (piece: Buffer) => pieces.push(piece))
  pdf.font('Helvetica-Bold').fontSize(16).text('Record of consent')
  pdf
    .font('Helvetica')
    .fontSize(10)
    .moveDown(0.5)
    .text([person.name, person.address].filter(Boolean).join(', '))
    .text(`Kept by ${name}, ${postalAddress}`)
    .text(`Printed ${at.toISOString()}`)
  if (entries.length === 0) pdf.moveDown().text('Nothing was agreed to or refused.')
  for (const entry of entries) {
    pdf
      .moveDown()
      .font('Helvetica-Bold')
      .text(`${entry.at}  ${entry.given ? 'agreed' : 'refused'}`)
      .font('Helvetica')
      .text(`“${entry.wording}”`)
    for (const line of circumstancesOf(entry)) pdf.fillColor('#444444').text(line).fillColor('#000000')
  }
  pdf.end()
  await ended
  return Buffer.concat(pieces)
}
