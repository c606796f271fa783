import { chanceFrom } from '../core/chance.ts'

/** The colours of the bindery's drawings, those of its brand. */
const ink = '#2B1B2E'
const mulberry = '#7A2048'
const linen = '#F6EDE4'
const sheet = '#FFFDF9'
const thread = '#C98B2B'

const drawing = (width: number, height: number, inner: string): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}"><rect width="100%" height="100%" fill="${linen}"/>${inner}</svg>`

const holes = (x: number, from: number, to: number, count: number): string =>
  Array.from({ length: count }, (_, i) => {
    const y = from + ((to - from) * i) / (count - 1)
    return `<circle cx="${x}" cy="${y}" r="9" fill="${ink}"/>`
  }).join('')

/** An open pamphlet with five holes in its fold, and a needle on its way. */
export function pamphlet(): string {
  const page = (x: number, skew: number): string =>
    `<path d="M800 190 L${x} ${190 + skew} L${x} ${930 + skew} L800 930 Z" fill="${sheet}" stroke="${ink}" stroke-width="6"/>`
  const lines = Array.from({ length: 9 }, (_, i) => {
    const y = 330 + i * 58
    return `<path d="M400 ${y + 22} L740 ${y} M860 ${y} L1200 ${y + 22}" stroke="#D9CBBE" stroke-width="8"/>`
  }).join('')
  return drawing(
    1600,
    1100,
    `${page(330, 44)}${page(1270, 44)}${lines}<path d="M800 190 V930" stroke="${ink}" stroke-width="6"/>${holes(800, 270, 850, 5)}<path d="M800 270 C900 330 900 380 800 415 C700 450 700 520 800 560 C900 600 900 660 800 705" fill="none" stroke="${thread}" stroke-width="9"/><path d="M800 705 C980 760 1130 820 1330 700" fill="none" stroke="${thread}" stroke-width="9"/><path d="M1330 700 L1500 610" stroke="${mulberry}" stroke-width="16" stroke-linecap="round"/>`,
  )
}

/** Sheets whose fibres run one way, and one that curls. */
export function grain(): string {
  const chance = chanceFrom(7)
  const fibres = Array.from({ length: 240 }, () => {
    const [x, y] = [180 + chance.next() * 560, 190 + chance.next() * 700]
    return `<path d="M${x.toFixed(0)} ${y.toFixed(0)} q${(chance.next() * 8 - 4).toFixed(1)} 34 0 ${(40 + chance.next() * 40).toFixed(0)}" stroke="#CDBBA9" stroke-width="3" fill="none"/>`
  }).join('')
  return drawing(
    1600,
    1100,
    `<rect x="160" y="160" width="600" height="780" fill="${sheet}" stroke="${ink}" stroke-width="6"/>${fibres}<path d="M860 900 C900 560 1160 480 1440 200 L1440 560 C1240 720 1060 800 1000 940 Z" fill="${sheet}" stroke="${ink}" stroke-width="6"/><path d="M300 1010 H620 M590 985 l35 25 l-35 25" stroke="${mulberry}" stroke-width="12" fill="none"/>`,
  )
}

/** A closed journal with a ribbon. */
export const journal = (): string =>
  drawing(
    1600,
    1100,
    `<path d="M470 150 H1160 a40 40 0 0 1 40 40 V900 a40 40 0 0 1 -40 40 H470 Z" fill="${mulberry}"/><path d="M470 150 V940" stroke="#5A1433" stroke-width="60"/><path d="M520 960 H1190" stroke="${sheet}" stroke-width="26"/><path d="M430 960 H1200" stroke="${ink}" stroke-width="6"/><rect x="640" y="330" width="410" height="170" fill="${linen}"/><path d="M690 390 H1000 M690 440 H900" stroke="${ink}" stroke-width="10"/><path d="M960 150 V1040 l-40 -50 l-40 50 V150" fill="${thread}"/>`,
  )

/** A bench by a window in autumn. */
export function atelier(): string {
  const chance = chanceFrom(11)
  const leaves = Array.from({ length: 26 }, () => {
    const [x, y] = [260 + chance.next() * 640, 150 + chance.next() * 420]
    const colour = chance.pick([thread, '#B4552D', mulberry])
    return `<ellipse cx="${x.toFixed(0)}" cy="${y.toFixed(0)}" rx="26" ry="12" transform="rotate(${(chance.next() * 180).toFixed(0)} ${x.toFixed(0)} ${y.toFixed(0)})" fill="${colour}"/>`
  }).join('')
  return drawing(
    1600,
    1100,
    `<rect x="220" y="110" width="720" height="500" fill="#DCE6E4" stroke="${ink}" stroke-width="10"/>${leaves}<path d="M580 110 V610 M220 360 H940" stroke="${ink}" stroke-width="10"/><rect x="120" y="760" width="1360" height="40" fill="#8A5A3B"/><path d="M220 800 V1060 M1380 800 V1060" stroke="#8A5A3B" stroke-width="34"/><rect x="1050" y="600" width="300" height="44" fill="${mulberry}"/><rect x="1070" y="652" width="260" height="50" fill="${ink}"/><rect x="1040" y="710" width="320" height="48" fill="${thread}"/><path d="M420 756 L640 640" stroke="${ink}" stroke-width="14" stroke-linecap="round"/><circle cx="820" cy="712" r="46" fill="none" stroke="${thread}" stroke-width="20"/>`,
  )
}

/** The mark of the bindery: a folded sheet with a stitch. */
export const mark = (): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 620 128" width="1240" height="256"><path d="M64 16 L16 30 V112 L64 100 L112 112 V30 Z" fill="${mulberry}"/><path d="M64 16 V100" stroke="#fff" stroke-width="4"/><path d="M64 34 c18 6 18 16 0 20 c-18 5 -18 16 0 20" fill="none" stroke="#F0C978" stroke-width="6"/>${letters('QUILLFEATHER', 148, 78)}</svg>`

/** Letters drawn as strokes, so that no typeface of the machine is needed. */
function letters(word: string, x: number, y: number): string {
  const strokes: Record<string, string> = {
    Q: 'M4 20 a14 18 0 1 0 28 0 a14 18 0 1 0 -28 0 M22 30 L34 42',
    U: 'M4 2 V26 a13 12 0 0 0 26 0 V2',
    I: 'M6 2 V38',
    L: 'M6 2 V38 H26',
    F: 'M6 38 V2 H28 M6 19 H24',
    E: 'M28 2 H6 V38 H28 M6 19 H24',
    A: 'M2 38 L17 2 L32 38 M8 26 H26',
    T: 'M2 2 H32 M17 2 V38',
    H: 'M6 2 V38 M30 2 V38 M6 19 H30',
    R: 'M6 38 V2 H20 a9 9 0 0 1 0 19 H6 M18 21 L30 38',
  }
  let at = x
  return Array.from(word)
    .map((letter) => {
      const drawn = `<path transform="translate(${at} ${y - 34})" d="${strokes[letter] ?? ''}" fill="none" stroke="${ink}" stroke-width="6" stroke-linecap="round" stroke-linejoin="round"/>`
      at += letter === 'I' ? 18 : 38
      return drawn
    })
    .join('')
}

/** The back of a book: sewn through its cover, in chains, or in boards. */
export function spine(kind: 'longStitch' | 'coptic' | 'caseBound'): string {
  const book = `<rect x="150" y="60" width="300" height="280" rx="6" fill="${kind === 'caseBound' ? mulberry : sheet}" stroke="${ink}" stroke-width="6"/>`
  const thickness = [0, 1, 2, 3, 4, 5].map((i) => `M${175 + i * 50} 60 V340`).join(' ')
  const sewn = {
    longStitch: `<path d="${thickness}" stroke="#D9CBBE" stroke-width="4"/><path d="M200 100 V300 M250 100 V300 M300 100 V300 M350 100 V300 M400 100 V300" stroke="${thread}" stroke-width="9" stroke-linecap="round"/>`,
    coptic: `<path d="${thickness}" stroke="${ink}" stroke-width="4"/>${[110, 165, 235, 290]
      .map(
        (y) =>
          `<path d="M165 ${y} q12 -18 24 0 t24 0 t24 0 t24 0 t24 0 t24 0 t24 0 t24 0 t24 0 t24 0 t24 0" fill="none" stroke="${thread}" stroke-width="8"/>`,
      )
      .join('')}`,
    caseBound: `<path d="M150 110 H450 M150 290 H450" stroke="#F0C978" stroke-width="6"/><rect x="215" y="160" width="170" height="80" fill="${linen}"/>`,
  }
  return drawing(600, 400, book + sewn[kind])
}
