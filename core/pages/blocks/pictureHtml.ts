import { Html, html } from '../../html.ts'
import type { PageContext, PictureFiles } from '../context.ts'

const srcset = ({ base, widths }: PictureFiles, format: string): string =>
  widths.map((width) => `${base}-${width}.${format} ${width}w`).join(', ')

/** The picture of a block: its own, or that of a shared detail. */
export const shownPicture = (
  { picture, detail }: { picture: number | null; detail: number | null },
  context: { detailPicture: (detail: number) => number | null },
): number | null => (detail === null ? picture : context.detailPicture(detail))

/** The alternative text of a picture; none tells a screen reader to pass it by. */
export const altOf = ({ alt, decorative }: { alt: string; decorative: boolean }): string =>
  decorative ? '' : alt

/**
 * A picture in the widths that there are, WebP before JPEG; its place is kept before it is there.
 * @param sizes how wide it is drawn, for the browser's choice
 */
export function pictureHtml(
  context: PageContext,
  id: number | null,
  alt: string,
  sizes: string,
  { eager = false } = {},
): Html {
  const files = id === null ? null : context.pictureOf(id)
  if (!files) return context.editing ? html`<span class="nopic">no picture chosen</span>` : html``
  const largest = files.widths.at(-1) ?? files.width
  return html`<picture
    ><source type="image/webp" srcset="${srcset(files, 'webp')}" sizes="${sizes}" />
    <img
      src="${files.base}-${largest}.jpg"
      srcset="${srcset(files, 'jpg')}"
      sizes="${sizes}"
      width="${files.width}"
      height="${files.height}"
      alt="${alt}"
      ${!eager && new Html(' loading="lazy"')}
  /></picture>`
}
