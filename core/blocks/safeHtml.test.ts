import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { safeEmailHtml, safeHtml } from './safeHtml.ts'

/** What a browser or a mail program would run, load or be led astray by (OWASP, "XSS Filter Evasion", in other words). */
const attacks: readonly string[] = [
  '<script>alert(1)</script>',
  '<img src=x onerror=alert(1)>',
  '<a href="javascript:alert(1)">x</a>',
  '<a href="jav&#x09;ascript:alert(1)">x</a>',
  '<a href="data:text/html,<script>alert(1)</script>">x</a>',
  '<svg onload=alert(1)><circle r="1"/></svg>',
  '<iframe src="https://evil.test"></iframe>',
  '<form action="https://evil.test"><input name="password"></form>',
  '<meta http-equiv="refresh" content="0;url=https://evil.test">',
  '<link rel="stylesheet" href="https://evil.test/x.css">',
  '<base href="https://evil.test/">',
  '<style>@import url(https://evil.test/x.css)</style>',
  '<p style="background:url(https://evil.test/i.png)">x</p>',
  '<p style="width:expression(alert(1))">x</p>',
  '<p style="position:fixed;top:0;z-index:9">x</p>',
  '<p style="color:red;behavior:url(x.htc)">x</p>',
  '<object data="https://evil.test/x.swf"></object>',
  '<img src="//evil.test/i.png" alt="x">',
  '<math><mtext><table><mglyph><style><img src=x onerror=alert(1)></style></mglyph></table></mtext></math>',
]
const harmful =
  /<(script|iframe|form|input|meta|link|base|style|object|embed|svg|math)\b|\son\w+\s*=|(java|vb)script:|data:text|url\s*\(|expression\s*\(|position\s*:|behavior|src="\/\//i

describe.each([
  ['of a page', safeHtml],
  ['of an email', safeEmailHtml],
])('own HTML %s', (_where, safe) => {
  it.each(attacks)('has nothing left of %j that does harm', (attack) => {
    expect(safe(attack)).not.toMatch(harmful)
    expect(safe(`<div><p>before</p>${attack}<p>after</p></div>`)).not.toMatch(harmful)
  })

  it('stays as it is once it is safe: saved and shown again it says the same', () => {
    const piece = fc.constantFrom(
      ...attacks,
      '<p>plain</p>',
      '<b>bold',
      '</p>',
      'words & <more>',
      '<td width="5">',
    )
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 8 }), (pieces) => {
        const once = safe(pieces.join(''))
        expect(safe(once)).toBe(once)
        expect(once).not.toMatch(harmful)
      }),
      { examples: [[['<td width="5">', 'words & <more>', '<td width="5">']]] },
    )
  })
})

describe('own HTML of an email', () => {
  it('keeps what mailboxes need: tables, sizes, colours, and pictures', () => {
    const table =
      '<table width="600" cellpadding="0" cellspacing="0" border="0" role="presentation"><tr><td align="center" valign="top" bgcolor="#ffffff" style="padding:8px 0;font-family:Georgia, serif;line-height:1.4">x</td></tr></table>'
    expect(safeEmailHtml(table)).toBe(table)
    expect(safeEmailHtml('<img src="https://bench.test/a.png" alt="a" width="20" />')).toContain('width="20"')
    expect(safeEmailHtml('<img src="/pictures/3-abcd-640.jpg" alt="a" />')).toContain(
      'src="/pictures/3-abcd-640.jpg"',
    )
  })

  it('keeps of a style what is safe, and leaves out the rest of it', () => {
    expect(safeEmailHtml('<p style="color:#123456;position:absolute;margin:0 auto">x</p>')).toBe(
      '<p style="color:#123456;margin:0 auto">x</p>',
    )
  })

  it('is not that of a page, which has no styles of its own and no pictures from elsewhere', () => {
    const markup = '<p style="color:#123456">x</p><img src="https://bench.test/a.png" alt="a" />'
    expect(safeHtml(markup)).toBe('<p>x</p>')
  })
})
