import fc from 'fast-check'
import { simpleParser, type AddressObject } from 'mailparser'
import { describe, expect, it } from 'vitest'
import { literalHtml, wordsText } from '../../../core/email/emailTemplate.ts'
import type { MergeValues } from '../../../core/email/merge.ts'
import { envelopeAddress, mailboxHeader, wordsHeader, type Mailbox } from './headers.ts'
import { composeMessage, prepareEmail } from './preparedEmail.ts'
import { quotedPiece } from './quotedPrintable.ts'

const values = (given: Partial<MergeValues> = {}): MergeValues => ({
  person: { first_name: 'Orla', last_name: '', address: 'orla@postbox.test' },
  business: { name: 'Quillfeather Bindery', postal_address: '4 Sizing Lane', zone: 'Europe/Dublin' },
  fields: {},
  zone: null,
  base_url: 'https://x.test',
  links: ['https://x.test/go/1?a=1&b=2'],
  shows: [true],
  unsubscribe_url: 'https://x.test/unsubscribe/1',
  preferences_url: 'https://x.test/preferences/1',
  open_url: 'https://x.test/seen/1',
  ...given,
})

interface Given {
  subject?: string
  text?: string
  html?: string | null
  from?: Mailbox
  replyTo?: string
  to?: Mailbox
  values?: MergeValues
}

const compose = (given: Given = {}): string =>
  composeMessage(
    prepareEmail({
      subject: wordsText(given.subject ?? 'Grain'),
      text: given.text ?? 'Hello {{ person.first_name }}\n',
      html: given.html === undefined ? '<p>Hello {{ person.first_name }}</p>' : given.html,
      from: given.from ?? { name: 'Mara', address: 'mara@quillfeather.example' },
      replyTo: given.replyTo ?? '',
    }),
    {
      to: given.to ?? { name: 'Orla Byrne', address: 'orla@postbox.test' },
      messageId: '<abc@quillfeather.example>',
      at: Date.parse('2026-11-27T09:05:00Z'),
      values: given.values ?? values(),
    },
  )

const anyWords = fc.string({ unit: 'grapheme', maxLength: 120 })
/** As mailparser reads texts: with plain line breaks, and none at the end. */
const read = (words: string): string => words.replace(/\r\n?/g, '\n').trimEnd()
const oneOf = (object: AddressObject | AddressObject[] | undefined): Mailbox | undefined => {
  const [first] = Array.isArray(object) ? object : [object]
  const found = first?.value[0]
  return found && { name: found.name, address: found.address ?? '' }
}

describe('a message (read back by mailparser)', () => {
  it('has both parts, the same headers as were meant, and one-click unsubscribe (RFC 2369, RFC 8058)', async () => {
    const mail = await simpleParser(compose({ replyTo: 'answers@quillfeather.example' }))
    expect(mail).toMatchObject({
      subject: 'Grain',
      messageId: '<abc@quillfeather.example>',
      date: new Date('2026-11-27T09:05:00Z'),
      text: 'Hello Orla\n',
      html: '<p>Hello Orla</p>',
    })
    expect(oneOf(mail.from)).toEqual({ name: 'Mara', address: 'mara@quillfeather.example' })
    expect(oneOf(mail.replyTo)?.address).toBe('answers@quillfeather.example')
    const lines = mail.headerLines.map(({ line }) => line)
    expect(lines).toContain('List-Unsubscribe: <https://x.test/unsubscribe/1>')
    expect(lines).toContain('List-Unsubscribe-Post: List-Unsubscribe=One-Click')
  })

  it('says in both parts what the templates say, whatever is written and whoever reads it (fast-check)', async () => {
    await fc.assert(
      fc.asyncProperty(anyWords, anyWords, anyWords, async (before, name, after) => {
        const person = { first_name: name, last_name: '', address: 'x@postbox.test' }
        const field = '{{ person.first_name }}'
        const raw = compose({
          html: `<p>${literalHtml(before).markup}|${field}|${literalHtml(after).markup}</p>`,
          text: `${wordsText(before)}|${field}|${wordsText(after)}\n`,
          values: values({ person }),
        })
        const mail = await simpleParser(raw, {
          skipHtmlToText: true,
          skipTextToHtml: true,
          skipTextLinks: true,
        })
        expect(read(mail.text ?? '').replace(/\n{2,}/g, '\n')).toBe(
          read(`${before}|${name}|${after}`).replace(/\n{2,}/g, '\n'),
        )
        const escape = (words: string): string => literalHtml(words).markup.replace(/&#12[35];/g, '?')
        const html = (mail.html || '').replace(/&#12[35];/g, '?').replace(/[{}]/g, '?')
        expect(html).toContain(read(`|${escape(name)}|`).replace(/[{}]/g, '?'))
      }),
      { numRuns: 60 },
    )
  })

  it('has no line longer than RFC 5322 §2.1.1 and RFC 2045 §6.7 allow, and nothing but ASCII', () => {
    const long = 'x'.repeat(10_000)
    const raw = compose({ subject: `Ü${long}`, text: `${long} — ${long}`, html: `<p>${long}ä${long}</p>` })
    const lines = raw.split('\r\n')
    expect(Math.max(...lines.map((line) => line.length))).toBeLessThanOrEqual(998)
    expect(Math.max(...lines.slice(lines.indexOf('')).map((line) => line.length))).toBeLessThanOrEqual(76)
    expect(raw).toMatch(/^[\x00-\x7f]*$/)
    // A line break is always both letters (RFC 5321 §2.3.8).
    expect(raw.replaceAll('\r\n', '')).not.toMatch(/[\r\n]/)
  })

  it('keeps a subject of ten thousand letters whole', async () => {
    const subject = 'Papier — fünf Sätze über Fasern. '.repeat(300).trim()
    expect((await simpleParser(compose({ subject }))).subject).toBe(subject)
  })

  it('lets no value begin another header, in any field (RFC 5322 §2.2)', async () => {
    const evil = 'Orla\r\nBcc: all@x.test\r\n\r\n<script>'
    for (const given of [
      { subject: evil },
      { to: { name: evil, address: 'orla@postbox.test' } },
      { from: { name: evil, address: 'mara@quillfeather.example' } },
      {
        values: values({ person: { first_name: evil, last_name: '', address: '' } }),
        subject: '{first name}',
      },
    ] satisfies Given[]) {
      const mail = await simpleParser(compose(given))
      expect(mail.bcc).toBeUndefined()
      expect(mail.headerLines.map(({ key }) => key)).not.toContain('bcc')
      expect(oneOf(mail.to)?.address).toBe('orla@postbox.test')
    }
    for (const address of [
      evil,
      'a@b.test\r\nBcc: c@d.test',
      'a b@c.test',
      'a@b.test, c@d.test',
      '<a@b.test>',
      'a',
      '@b.test',
    ])
      expect(() => mailboxHeader('To', { name: '', address }), address).toThrow(/is no email address/)
  })

  it('is plain text alone where there is no HTML', async () => {
    const mail = await simpleParser(compose({ html: null }))
    expect(mail.html).toBe(false)
    expect(mail.text).toBe('Hello Orla\n')
  })

  it('closes the holes that parts leave which are not for its reader', async () => {
    const text = 'One\n\n{% if shows[0] %}Two{% else %}{% endif %}\n\nThree\n'
    const mail = await simpleParser(compose({ html: null, text, values: values({ shows: [false] }) }))
    expect(mail.text).toBe('One\n\nThree\n')
  })
})

describe('headers', () => {
  it('hold words of any script in encoded words (RFC 2047 §8: Keld Jørn Simonsen)', async () => {
    for (const name of ['Keld Jørn Simonsen', 'Ōsaka 大阪', 'Zoë “Z” Byrne', 'O\'Neill, "Bo"', '👩‍🎨']) {
      const header = mailboxHeader('To', { name, address: 'keld@dkuug.test' })
      expect(header).toMatch(/^[\x00-\x7f]*$/)
      const mail = await simpleParser(`${header}${wordsHeader('Subject', name)}\r\nx`)
      expect(oneOf(mail.to)?.name).toBe(name)
      expect(mail.subject).toBe(name)
    }
  })

  it('have domains as the DNS has them (RFC 5891), and keep a local part of any script (RFC 6532)', () => {
    expect(envelopeAddress('orla@bücher.example')).toBe('orla@xn--bcher-kva.example')
    expect(envelopeAddress('zoë@postbox.test')).toBe('zoë@postbox.test')
  })
})

describe('quoted-printable', () => {
  it('is the same in pieces as in one (RFC 2045 §6.7)', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(anyWords, { maxLength: 6 }), async (pieces) => {
        const body = pieces.map(quotedPiece).join('')
        const raw = `Content-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\n${body}`
        const { text } = await simpleParser(raw, { skipTextToHtml: true, skipTextLinks: true })
        expect(read(text ?? '')).toBe(read(pieces.join('')))
      }),
      { numRuns: 80 },
    )
  })
})
