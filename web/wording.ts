const formats = new Map<string, Intl.DateTimeFormat>()

function format(zone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${zone} ${JSON.stringify(options)}`
  const known = formats.get(key)
  if (known) return known
  const made = new Intl.DateTimeFormat('en-GB', { timeZone: zone, ...options })
  formats.set(key, made)
  return made
}

const time = { hour: '2-digit', minute: '2-digit' } as const
const shortDay = { weekday: 'short', day: 'numeric', month: 'short' } as const
const dayOfYear = { day: 'numeric', month: 'short', year: 'numeric' } as const

/** "09:05" */
export const clockTime = (iso: string, zone: string): string => format(zone, time).format(new Date(iso))

/** "12 Mar 2026" */
export const dayOf = (iso: string, zone: string): string => format(zone, dayOfYear).format(new Date(iso))

/** "2026-03-12", as date inputs want it: Sweden's way of writing days is ISO 8601's. */
export const isoDayOf = (iso: string, zone: string): string =>
  new Intl.DateTimeFormat('sv-SE', { timeZone: zone }).format(new Date(iso))

/** "09:05" on the day of `now`, else "Thu 26 Nov 09:05"; another year is named. */
export function whenOf(iso: string, zone: string, now: string): string {
  const at = clockTime(iso, zone)
  if (dayOf(iso, zone) === dayOf(now, zone)) return at
  const sameYear = dayOf(iso, zone).slice(-4) === dayOf(now, zone).slice(-4)
  const day = format(zone, sameYear ? shortDay : dayOfYear).format(new Date(iso))
  return `${day.replace(',', '')} ${at}`
}

/** "in 3 min", "in 5 h", "now" */
export function untilOf(iso: string, now: number): string {
  const minutes = Math.round((Date.parse(iso) - now) / 60_000)
  if (minutes <= 0) return 'now'
  if (minutes < 90) return `in ${minutes} min`
  const hours = Math.round(minutes / 60)
  return hours < 48 ? `in ${hours} h` : `in ${Math.round(hours / 24)} days`
}

const grouped = new Intl.NumberFormat('en-GB')

/** "2,400" */
export const countOf = (n: number): string => grouped.format(n)

/** "1 person", "2,400 people" */
export const peopleOf = (n: number): string => `${countOf(n)} ${n === 1 ? 'person' : 'people'}`

/** "40 s", "12 min", "5 h", "3 days": about so long. */
export function durationOf(ms: number): string {
  const seconds = Math.round(ms / 1_000)
  if (seconds < 90) return `${seconds} s`
  const minutes = Math.round(seconds / 60)
  if (minutes < 90) return `${minutes} min`
  const hours = Math.round(minutes / 60)
  return hours < 48 ? `${hours} h` : `${Math.round(hours / 24)} days`
}

/** The first of many names, and how many others there are. */
export const someOf = (names: readonly string[], shown = 2): string =>
  names.length <= shown + 1
    ? names.join(', ')
    : `${names.slice(0, shown).join(', ')} and ${names.length - shown} more`
