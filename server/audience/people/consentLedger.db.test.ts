import { inflateSync } from 'node:zlib'
import { parse } from 'csv-parse/sync'
import { describe, expect, it } from 'vitest'
import { formPage } from '../../../testing/formPage.ts'
import { useInstall } from '../../../testing/useInstall.ts'

const on = useInstall()

/** The texts of a PDF, as its content streams show them (ISO 32000-1 §9.4.3: strings in hexadecimal). */
function textOf(pdf: Buffer): string {
  const source = pdf.toString('latin1')
  return [...source.matchAll(/stream\r?\n([\s\S]*?)\r?\nendstream/g)]
    .map(([, stream]) => {
      try {
        return inflateSync(Buffer.from(stream ?? '', 'latin1')).toString('latin1')
      } catch {
        return ''
      }
    })
    .flatMap((content) => [...content.matchAll(/<([0-9a-f]+)>/g)])
    .map(([, hex]) => Buffer.from(hex ?? '', 'hex').toString('latin1'))
    .join('')
}

describe('the ledger of consent', () => {
  it('says word for word what was agreed to, by which version, where, and how it was confirmed', async () => {
    const page = await formPage(on)
    await page.send({ address: 'ledger@postbox.test', firstname: 'Orla', consent: 'yes' })
    const { id } = (await on.q.row<{ id: number }>(
      `select id from contact where address_key = 'ledger@postbox.test'`,
    ))!
    const { consents } = await on.view(id)
    expect(consents).toMatchObject([
      {
        given: true,
        wording: 'Yes, you may write to me. I can stop it at any time.',
        form: expect.stringMatching(/^Form/) as string,
        formVersion: 1,
        page: expect.stringMatching(/^form-page/) as string,
        pageVersion: 1,
        site: null,
        ip: '127.0.0.1',
        confirmedAt: null,
      },
    ])

    const csv = await (await on.mara.download(`/people/${id}/consent.csv`)).text()
    const [head, row]: string[][] = parse(csv, { bom: true })
    expect(Object.fromEntries(head!.map((name, i) => [name, row![i]]))).toMatchObject({
      Given: 'yes',
      Wording: 'Yes, you may write to me. I can stop it at any time.',
      'Form version': '1',
      'Network address': '127.0.0.1',
    })

    const answer = await on.mara.download(`/people/${id}/consent.pdf`)
    expect(answer.headers.get('content-type')).toBe('application/pdf')
    const pdf = Buffer.from(await answer.arrayBuffer())
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-')
    const words = textOf(pdf).replace(/\s+/g, '')
    for (const said of ['Orla', 'ledger@postbox.test', 'Icanstopitatanytime', 'version1', '127.0.0.1'])
      expect(words).toContain(said)
  })

  it('of nobody is not there', async () => {
    expect((await on.mara.download('/people/99999/consent.pdf')).status).toBe(404)
    expect((await on.mara.download('/people/99999/consent.csv')).status).toBe(404)
  })
})
