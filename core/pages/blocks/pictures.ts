import type { Block } from '../../blocks/block.ts'
import { html, type Html } from '../../html.ts'
import { editable, linked, type PageBlock, type PageContext } from '../context.ts'
import { altOf, pictureHtml, shownPicture } from './pictureHtml.ts'
import { centred, lineOf } from './words.ts'

const widest: Record<Block<'picture'>['size'], string> = {
  small: '240px',
  half: '(max-width:720px) 100vw, 540px',
  full: '(max-width:1200px) 100vw, 1200px',
}

export const picture: PageBlock<Block<'picture'>> = {
  html: (block, context) => {
    const { shape, size, caption } = block
    const drawn = pictureHtml(context, shownPicture(block, context), altOf(block), widest[size])
    if (!drawn.markup) return html``
    return html`<figure class="pic ${shape} ${size}">
      ${linked(context, block.target, drawn)}${
        caption && html`<figcaption${editable(context, 'caption')}>${lineOf(caption, context)}</figcaption>`
      }
    </figure>`
  },
  css: `.pic{margin:0}.pic img{border-radius:var(--corner)}.pic.small{max-width:240px}.pic.half{max-width:540px}.pic figcaption{display:block;font-size:15px;margin-top:8px}.pic.square img,.pic.circle img{aspect-ratio:1;object-fit:cover;width:100%}.pic.wide img{aspect-ratio:2;object-fit:cover;width:100%}.pic.circle img{border-radius:50%}`,
}

export const logo: PageBlock<Block<'logo'>> = {
  html: ({ size, align }, context) =>
    html`<p${centred(align)}><span class="logo ${size}">${logoHtml(context)}</span></p>`,
  css: '',
}

/** The logo of the brand, or the business's name where there is none. */
export function logoHtml(context: PageContext): Html {
  const { brand, business } = context
  const drawn =
    brand.logo === null ? null : pictureHtml(context, brand.logo, business.name, '320px', { eager: true })
  return drawn?.markup ? drawn : html`${business.name}`
}

export const pictureRow: PageBlock<Block<'pictureRow'>> = {
  html: ({ pictures: all }, context) =>
    html`<div class="row">
      ${all.map((each) =>
        linked(
          context,
          each.target,
          pictureHtml(context, each.picture, altOf(each), '(max-width:720px) 50vw, 400px'),
        ),
      )}
    </div>`,
  css: `.row{display:grid;grid-template-columns:repeat(auto-fit,minmax(min(150px,45%),1fr));gap:16px}.row img{border-radius:var(--corner);aspect-ratio:4/3;object-fit:cover;width:100%}`,
}

/** The host of a web address, when videos of it may be shown. */
function allowedHost(url: string, { videoHosts }: PageContext): string | null {
  const { protocol, hostname } = new URL(url)
  return protocol === 'https:' && videoHosts.includes(hostname) ? hostname : null
}

function stillHtml({ source, title, poster }: Block<'video'>, context: PageContext): Html {
  const still = pictureHtml(context, poster, '', '(max-width:1200px) 100vw, 1200px')
  if (source?.from !== 'web') return html`<div class="still">${still}<span>No video chosen yet</span></div>`
  const host = allowedHost(source.url, context)
  if (!host) return html`<div class="still">${still}<span>This video cannot be shown here.</span></div>`
  // Until somebody presses it, nothing is asked of the host; without a script it opens there.
  return html`<div class="still">
    ${still}<a class="btn" href="${source.url}" data-frame="${source.url}" rel="noopener" target="_blank"
      >Play “${title || 'the video'}”</a
    ><small>Loads from ${host}</small>
  </div>`
}

export const video: PageBlock<Block<'video'>> = {
  html: (block, context) => {
    const { source, title, poster } = block
    const file = source?.from === 'file' ? context.mediaOf(source.file) : null
    if (source?.from !== 'file' || !file)
      return context.editing || source?.from === 'web' ? stillHtml(block, context) : html``
    const captions = source.captions === null ? null : context.mediaOf(source.captions)
    const still = poster === null ? null : context.pictureOf(poster)
    return html`<video
      controls
      preload="none"
      width="1280"
      height="720"
      ${title && html` aria-label="${title}"`}${
        still && html` poster="${still.base}-${still.widths.at(-1)}.jpg"`
      }
    >
      <source src="${file}" />
      ${captions && html`<track kind="captions" src="${captions}" srclang="en" label="Captions" />`}
    </video>`
  },
  css: `video,.still,.still iframe{display:block;width:100%;height:auto;aspect-ratio:16/9;border-radius:var(--corner);background:#111;border:0}.still{position:relative;overflow:hidden;color:#fff;display:grid;place-content:center;justify-items:center;gap:10px;text-align:center}.still picture{position:absolute;inset:0}.still img{width:100%;height:100%;object-fit:cover;opacity:.55}.still a,.still small,.still span,.still iframe{position:relative}`,
  needs: ({ source }, context) => {
    if (source?.from === 'file') return { media: true }
    const host = source && allowedHost(source.url, context)
    return host ? { script: true, frames: [`https://${host}`] } : {}
  },
}
