import PDFDocument from 'pdfkit'

/** Points a millimetre. */
const mm = 72 / 25.4

/** A4 in points. */
const page = { width: 210 * mm, height: 297 * mm }

/** Where the five holes of a pamphlet lie along its spine: the middle, and two pairs towards the ends. */
export function holesAlong(spine: number): number[] {
  const margin = spine / 10
  const half = spine / 2
  return [margin, (margin + half) / 2, half, spine - (margin + half) / 2, spine - margin]
}

function drawTemplate(pdf: PDFKit.PDFDocument, name: string, spine: number): void {
  const left = page.width / 2
  const top = 48 * mm
  pdf
    .font('Helvetica-Bold')
    .fontSize(16)
    .text(`Five-hole pamphlet: ${name}`, 20 * mm, 20 * mm)
  pdf
    .font('Helvetica')
    .fontSize(10)
    .text(
      'Print at 100 %. Fold along the dashed line, nest your sheets inside, and pierce at the rings.',
      20 * mm,
      29 * mm,
    )
  pdf.rect(left - 40 * mm, top, 80 * mm, spine * mm).stroke()
  pdf
    .moveTo(left, top)
    .lineTo(left, top + spine * mm)
    .dash(4, { space: 3 })
    .stroke()
    .undash()
  for (const hole of holesAlong(spine)) {
    pdf.circle(left, top + hole * mm, 1.6 * mm).stroke()
    pdf.fontSize(9).text(`${hole.toFixed(1)} mm`, left + 5 * mm, top + hole * mm - 4)
  }
}

/** The free file of the story: three printable piercing templates, as a PDF. */
export function pamphletTemplates(madeAt: Date): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const pdf = new PDFDocument({
      size: 'A4',
      autoFirstPage: false,
      info: {
        Title: 'Five-Hole Pamphlet template pack',
        Author: 'Quillfeather Bindery',
        CreationDate: madeAt,
      },
    })
    const parts: Buffer[] = []
    pdf.on('data', (part: Buffer) => parts.push(part))
    pdf.on('end', () => resolve(Buffer.concat(parts)))
    pdf.on('error', reject)
    for (const [name, spine] of [
      ['A6, 148 mm', 148],
      ['A5, 210 mm', 210],
      ['pocket, 105 mm', 105],
    ] as const) {
      pdf.addPage()
      drawTemplate(pdf, name, spine)
    }
    pdf.end()
  })
}
