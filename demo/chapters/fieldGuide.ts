import PDFDocument from 'pdfkit'

/** What the guide says, thread by thread. */
const threads: readonly (readonly [name: string, words: string])[] = [
  [
    'Linen 18/3',
    'For text blocks of eight signatures and more. Wax it once, then draw it between two fingers.',
  ],
  ['Linen 25/3', 'For pamphlets and thin paper. Two lengths of the spine are enough for five holes.'],
  ['Linen 12/4', 'For long stitches on leather, where the thread is seen. Leave it unwaxed for colour.'],
  ['Silk, untwisted', 'For headbands only: it shines, and it frays on sewing stations.'],
]

/** The small first thing that the story sells, as a PDF. */
export function fieldGuide(madeAt: Date): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const title = 'Thread & Needle Field Guide'
    const pdf = new PDFDocument({
      size: 'A5',
      margin: 48,
      info: { Title: title, Author: 'Quillfeather Bindery', CreationDate: madeAt },
    })
    const parts: Buffer[] = []
    pdf.on('data', (part: Buffer) => parts.push(part))
    pdf.on('end', () => resolve(Buffer.concat(parts)))
    pdf.on('error', reject)
    pdf.font('Helvetica-Bold').fontSize(18).text(title).moveDown()
    for (const [name, words] of threads) {
      pdf.font('Helvetica-Bold').fontSize(12).text(name)
      pdf.font('Helvetica').fontSize(10).text(words).moveDown()
    }
    pdf.end()
  })
}
