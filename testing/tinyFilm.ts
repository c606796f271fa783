/** A box of an ISO base media file (ISO/IEC 14496-12 §4.2). */
function box(type: string, ...parts: Buffer[]): Buffer {
  const size = Buffer.alloc(4)
  const body = Buffer.concat([Buffer.from(type, 'latin1'), ...parts])
  size.writeUInt32BE(body.length + 4)
  return Buffer.concat([size, body])
}

const words = (...values: number[]): Buffer => {
  const bytes = Buffer.alloc(values.length * 4)
  values.forEach((value, i) => bytes.writeUInt32BE(value, i * 4))
  return bytes
}

/** An MP4 file that says it lasts so many seconds and shows nothing: its movie header alone (§8.2.2). */
export function tinyFilm(seconds: number): Buffer {
  const scale = 1_000
  const matrix = words(0x00010000, 0, 0, 0, 0x00010000, 0, 0, 0, 0x40000000)
  const header = Buffer.concat([
    words(0, 0, 0, scale, seconds * scale, 0x00010000, 0x01000000, 0, 0),
    matrix,
    words(0, 0, 0, 0, 0, 0, 1),
  ])
  return Buffer.concat([
    box('ftyp', Buffer.from('isom'), words(512), Buffer.from('isomiso2mp41')),
    box('moov', box('mvhd', header)),
    box('mdat', Buffer.alloc(16)),
  ])
}
