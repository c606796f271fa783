import { simpleParser } from 'mailparser'
import MailComposer from 'nodemailer/lib/mail-composer'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { documentText, walk } from '../../core/blocks/walk.ts'
import { useEmails } from '../../testing/emails.ts'
import { dangersIn } from '../../testing/markup.ts'
import { made } from '../../testing/people.ts'
import { useInstall } from '../../testing/useInstall.ts'

const on = useInstall({ worker: false })
const { view, create, write, text } = useEmails(on)

const bring = (name: string, bytes: string | Buffer) =>
  on.mara.send(`/emails/import?name=${encodeURIComponent(name)}`, Buffer.from(bytes))
const brought = async (name: string, bytes: string | Buffer) => {
  const { id, leftOut } = await made<{ id: number; leftOut: string[] }>(bring(name, bytes))
  const email = await view(id)
  const markups = [...walk(email.content.document)].map(({ block }) =>
    block.kind === 'ownHtml' ? block.markup : '',
  )
  return { ...email, leftOut, markup: markups.join('') }
}
const page = `<!doctype html><html><head><title>From the bench</title>
  <style>.big { color: #7a1f4b; font-size: 22px } @media (max-width: 400px) { .big { font-size: 18px } }</style>
  </head><body><p class="big" onclick="alert(1)">Good morning</p>
  <table width="600" bgcolor="#ffffff"><tr><td style="padding: 8px; position: fixed; background: url(https://x.test/i.png)">A cell</td></tr></table>
  <script>alert(2)</script><a href="javascript:alert(3)">bad</a><a href="https://bench.test/">good</a></body></html>`

describe('HTML that somebody brings along', () => {
  it('is one block, with its styles written into the elements and nothing that could do harm', async () => {
    const { name, content, markup } = await brought('Bench letter.html', page)
    expect([name, content.subject]).toEqual(['Bench letter', 'From the bench'])
    expect(markup).toMatch(/style="color: ?#7a1f4b; ?font-size: ?22px;?"/)
    expect(markup).toContain('href="https://bench.test/"')
    expect(dangersIn(markup, 'https://own.test')).toEqual([])
    expect(markup).not.toMatch(/script|position|url\(|@media/)
  })

  it.each([
    ['empty.html', '', 'empty'],
    ['script.html', '<script>alert(1)</script>', 'Nothing can be read'],
    ['long.html', `<p>${'x'.repeat(200_001)}</p>`, 'too long'],
    ['none.eml', 'Subject: x\r\n\r\n', 'Nothing can be read'],
  ])('as %s is refused in words', async (name, bytes, words) => {
    const answer = await bring(name, bytes)
    expect([answer.status, await answer.text()]).toEqual([422, expect.stringContaining(words)])
  })
})

describe('a message of another program', () => {
  it('brings its subject, its HTML and the pictures that it shows (RFC 5322, composed by nodemailer)', async () => {
    const picture = await sharp({ create: { width: 80, height: 40, channels: 3, background: '#345' } })
      .png()
      .toBuffer()
    const message = await new MailComposer({
      subject: 'Grüße von der Werkbank',
      html: '<p>Look: <img src="cid:needle" alt="a needle"></p>',
      attachments: [
        { cid: 'needle', filename: 'needle.png', content: picture },
        { filename: 'terms.pdf', content: '%PDF' },
      ],
    })
      .compile()
      .build()
    const { content, markup, leftOut, id } = await brought('letter.eml', message)
    expect([content.subject, leftOut]).toEqual(['Grüße von der Werkbank', ['terms.pdf']])
    expect(markup).toMatch(/<img src="\/pictures\/\d+-\w+-\d+\.jpg" alt="a needle"/)
    const shown = await (await on.mara.download(`/emails/${id}/email.html`)).text()
    expect(shown).toContain(`src="${on.install.platform.settings.publicUrl}/pictures/`)
  })

  it('without HTML is plain text here too', async () => {
    const { content } = await brought(
      'plain.eml',
      'Subject: Hello\r\nFrom: a@b.test\r\n\r\nFirst.\r\n\r\nSecond.\r\n',
    )
    expect(content).toMatchObject({ subject: 'Hello', textOnly: true, text: 'First.\n\nSecond.' })
    expect(documentText(content.document)).toEqual(['First.', 'Second.'])
  })
})

describe('an email that somebody takes along', () => {
  it('is a message that can be read back, by mailparser and by ourselves', async () => {
    const id = await create(write({ subject: "Hello {first name or 'reader'}" }, text('Four sheets.')))
    const bytes = Buffer.from(await (await on.mara.download(`/emails/${id}/email.eml`)).arrayBuffer())
    const parsed = await simpleParser(bytes)
    expect([parsed.subject, parsed.from?.value[0]?.address]).toEqual([
      'Hello reader',
      'mara@quillfeather.example',
    ])
    expect(parsed.text).toContain('Four sheets.')
    expect(String(parsed.html)).toContain('Four sheets.')
    const again = await brought('again.eml', bytes)
    expect(again.markup).toContain('Four sheets.')
  })
})
