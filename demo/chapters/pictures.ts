import sharp from 'sharp'
import type { Queries } from '../../server/database/connect.ts'
import { storePicture } from '../../server/pages/pictures.ts'
import { makeEach } from './create.ts'
import { atelier, grain, journal, mark, pamphlet, spine } from '../drawings.ts'

const drawings = {
  pamphlet: { svg: pamphlet(), name: 'Open pamphlet', alt: 'an open pamphlet with five holes and a needle' },
  grain: { svg: grain(), name: 'Paper grain', alt: 'a sheet with visible fibres beside one that curls' },
  journal: { svg: journal(), name: 'Journal', alt: 'a mulberry journal with a ribbon' },
  atelier: { svg: atelier(), name: 'Atelier in autumn', alt: 'a bench with books by a window in autumn' },
  longStitch: { svg: spine('longStitch'), name: 'Long-stitch spine', alt: 'a spine with long stitches' },
  coptic: { svg: spine('coptic'), name: 'Coptic spine', alt: 'a spine sewn in chains' },
  caseBound: { svg: spine('caseBound'), name: 'Case-bound spine', alt: 'a spine in boards with a label' },
  logo: { svg: mark(), name: 'Logo', alt: 'Quillfeather Bindery' },
}

/** The pictures of the story, by their ids. */
export type Pictures = Record<keyof typeof drawings, number>

/** Draws the pictures, and stores them as somebody would who uploads them. */
export function make(q: Queries, at: Date): Promise<Pictures> {
  return makeEach(drawings, async ({ svg, name, alt }) => {
    const content = await sharp(Buffer.from(svg)).png().toBuffer()
    return storePicture(q, { name, alt, content }, at)
  })
}

/** What a picture shows, for who cannot see it. */
export const altOf = (key: keyof Pictures): string => drawings[key].alt
