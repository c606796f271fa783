import { typefaces, type Brand } from './brand.ts'

/** Character ranges of the two files of each typeface: Western Europe, and the rest of the Latin script. */
const subsets = {
  latin:
    'U+0000-00FF,U+0131,U+0152-0153,U+02BB-02BC,U+02C6,U+02DA,U+02DC,U+2000-206F,U+20AC,U+2122,U+2191,U+2193,U+2212,U+2215,U+FEFF,U+FFFD',
  'latin-ext':
    'U+0100-02BA,U+02BD-02C5,U+02C7-02CC,U+02CE-02D7,U+02DD-02FF,U+0304,U+0308,U+0329,U+1D00-1DBF,U+1E00-1E9F,U+1EF2-1EFF,U+2020,U+20A0-20AB,U+20AD-20C0,U+2113,U+2C60-2C7F,U+A720-A7FF',
} as const

/** A fall-back drawn as wide as the typeface itself would move less when that arrives. */
const fontFaces = (brand: Brand): string =>
  [...new Set([brand.headings, brand.body])]
    .flatMap((face) =>
      Object.entries(subsets).map(
        ([subset, range]) =>
          `@font-face{font-family:"${typefaces[face].family}";src:url(/assets/fonts/${face}-${subset}.woff2) format("woff2");font-weight:100 900;font-display:swap;unicode-range:${range}}`,
      ),
    )
    .join('')

const familyOf = (face: Brand['body']): string => `"${typefaces[face].family}",${typefaces[face].fallback}`

const variables = ({ colours, headings, body, corner, width }: Brand): string =>
  `{--bg:${colours.background};--tint:${colours.tint};--text:${colours.text};--accent:${colours.accent};--on:${colours.onAccent};--line:color-mix(in srgb,var(--text) 20%,var(--bg));--corner:${corner}px;--width:${width}px;--head:${familyOf(headings)};--body:${familyOf(body)}}`

/** What every page needs, whatever stands on it. */
const base = `*{box-sizing:border-box}html{-webkit-text-size-adjust:100%}body{margin:0;background:var(--bg);color:var(--text);font:17px/1.6 var(--body);overflow-wrap:break-word}h1,h2,h3,p,ul,ol{margin:0}h1,h2,h3{font-family:var(--head);text-wrap:balance}a{color:var(--accent)}img{display:block;max-width:100%;height:auto}:focus-visible{outline:3px solid var(--accent);outline-offset:3px}.in{max-width:calc(var(--width) + 48px);margin:0 auto;padding:0 24px}header .in,footer .in{display:flex;flex-wrap:wrap;align-items:center;gap:8px 28px}header{padding:22px 0}header .logo{margin-right:auto}.logo{font:700 20px/1.2 var(--head);display:inline-block}.logo img{height:44px;width:auto}.logo.small img{height:28px}.logo.large img{height:80px}.logo.large{font-size:32px}footer{padding:36px 0;font-size:14px;border-top:1px solid var(--line)}footer p{margin-right:auto}section{padding:44px 0}section.tinted{background:var(--tint)}section.narrow .in{max-width:728px}section.full .in{max-width:none}section.pictured{position:relative;isolation:isolate;color:#fff}section.pictured>picture{position:absolute;inset:0;z-index:-1;background:#111}section.pictured>picture img{width:100%;height:100%;object-fit:cover;opacity:.45}.cols{display:grid;gap:32px 56px;align-items:start}.b+.b{margin-top:22px}.mid{text-align:center}.btn{display:inline-block;border:2px solid var(--accent);border-radius:var(--corner);background:var(--accent);color:var(--on);font:700 17px/1.3 var(--body);padding:13px 26px;text-align:center;text-decoration:none;cursor:pointer}.bar[hidden]{display:none}.bar{position:fixed;inset:auto 0 0;background:var(--bg);border-top:2px solid var(--accent);padding:16px 24px;display:flex;flex-wrap:wrap;gap:12px;align-items:center}@media(max-width:720px){section{padding:32px 0}.cols{grid-template-columns:minmax(0,1fr)!important}.nophone{display:none}}`

/** What stands on the sheet only: empty places show what belongs there. */
export const sheetStyle = `[data-edit]:empty::after,.b[data-guide].hollow::before{content:attr(data-guide) "";color:#5F6B6E;font-style:italic}[data-edit]{min-width:1ch;cursor:text}.nopic{display:grid;place-content:center;min-height:120px;border:2px dashed var(--line);color:#5F6B6E;border-radius:var(--corner)}`

/** The grids of sections. @param columns the shares of columns that there are, such as `2-1` */
const gridsOf = (columns: ReadonlySet<string>): string[] =>
  [...columns].map((shares) => {
    const widths = shares
      .split('-')
      .map((share) => `minmax(0,${share}fr)`)
      .join(' ')
    return `.c${shares}{grid-template-columns:${widths}}`
  })

/** The style of a page. @param columns the shares of columns that it has, such as `2-1` */
export const pageStyle = (brand: Brand, kinds: readonly string[], columns: ReadonlySet<string>): string =>
  [fontFaces(brand), `:root${variables(brand)}`, ...gridsOf(columns), base, ...kinds].join('')

/** What stands in a tree of its own, in the middle of somebody's page: nothing of theirs comes in, nothing of ours out. */
const shadowBase = `:host{all:initial}.sheet{margin:0;color:var(--text);font:17px/1.6 var(--body);overflow-wrap:break-word;text-align:start}.sheet section{padding:0}.sheet section+section{margin-top:22px}.sheet section.tinted{padding:16px}.sheet .in{padding:0}dialog{border:0;padding:0;color:inherit;background:none;max-width:none;max-height:none}dialog.centre{width:min(560px,calc(100vw - 32px));max-height:calc(100vh - 48px);margin:auto}dialog.centre::backdrop{background:rgb(0 0 0/.5)}dialog.corner{position:fixed;inset:auto 20px 20px auto;margin:0;width:min(400px,calc(100vw - 40px));max-height:calc(100vh - 40px);z-index:2147483000}dialog.bar{position:fixed;inset:auto 0 0;margin:0;width:100%;max-height:60vh;z-index:2147483000}dialog.bar.top{inset:0 0 auto}dialog{overflow:visible}dialog .sheet:focus{outline:0}dialog .sheet{position:relative;background:var(--bg);padding:32px 28px 28px;border:1px solid var(--line);border-radius:var(--corner);box-shadow:0 12px 40px rgb(0 0 0/.25);overflow:auto;max-height:inherit}dialog.bar .sheet{border-radius:0;border-width:2px 0 0}dialog.bar .sheet>.parts{max-width:var(--width);margin:0 auto}dialog form,dialog .done{border:0;padding:0;max-width:none}.shut{position:absolute;top:6px;right:6px;width:40px;height:40px;border:0;border-radius:50%;background:none;color:inherit;font:26px/1 var(--body);cursor:pointer}@media(max-width:560px){dialog.centre{width:100vw;height:100dvh;max-height:none;margin:0}dialog.centre .sheet{min-height:100dvh;border:0;border-radius:0}dialog.corner{inset:auto 0 0;width:100%}}`

/** The style of a form or a pop-up on whatever page, for a shadow tree; its typefaces come with the page. */
export const shadowStyle = (brand: Brand, kinds: readonly string[], columns: ReadonlySet<string>): string =>
  [`:host${variables(brand)}`, ...gridsOf(columns), base, shadowBase, ...kinds].join('')

/** The typefaces of a brand, for pages that are not ours: family, file and range of characters. */
export const facesOf = (brand: Brand): { family: string; path: string; range: string }[] =>
  [...new Set([brand.headings, brand.body])].flatMap((face) =>
    Object.entries(subsets).map(([subset, range]) => ({
      family: typefaces[face].family,
      path: `/assets/fonts/${face}-${subset}.woff2`,
      range,
    })),
  )
