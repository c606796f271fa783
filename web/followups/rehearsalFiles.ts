import { stringify } from 'csv-stringify/browser/esm/sync'
import ical from 'ical-generator'
import { DateTime } from 'luxon'
import type { Names } from '../../core/audience/segments/names.ts'
import { nameOf } from '../../core/audience/segments/names.ts'
import { emailsOf } from '../../core/followups/crowding.ts'
import type { RehearsalLine } from '../../core/followups/rehearsal.ts'

/** A line of a rehearsal as it is shown and saved. */
export interface ShownLine {
  at: number
  when: string
  followup: string
  what: string
  why: string
  isEmail: boolean
  isDeed: boolean
}

/** The dated list as CSV (RFC 4180); what a spreadsheet would take for a formula is none. */
export const rehearsalCsv = (lines: readonly ShownLine[]): string =>
  stringify(
    lines.map(({ when, followup, what, why }) => [when, followup, what, why]),
    {
      header: true,
      columns: ['When', 'Follow-up', 'What', 'Why'],
      escape_formulas: true,
      record_delimiter: 'windows',
    },
  )

/** The emails of a rehearsal as a calendar (RFC 5545), a quarter of an hour each. */
export function rehearsalCalendar(lines: readonly RehearsalLine[], name: string, names: Names): string {
  const calendar = ical({ name, prodId: { company: 'Nurtel', product: 'Rehearsal' } })
  for (const [i, { at, email }] of emailsOf(lines).entries())
    calendar.createEvent({
      id: `rehearsal-${at}-${i}@nurtel.example`,
      start: new Date(at),
      end: new Date(at + 15 * 60_000),
      summary: nameOf(names, 'emails', email),
    })
  return calendar.toString()
}

/** "Tue 3 Mar 2026, 09:00" */
export const tellMoment = (at: number, zone: string): string =>
  DateTime.fromMillis(at, { zone }).setLocale('en-GB').toFormat('ccc d LLL yyyy, HH:mm')

/** Has the browser save a text as a file. */
export function saveText(name: string, type: string, text: string): void {
  const url = URL.createObjectURL(new Blob([text], { type }))
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  URL.revokeObjectURL(url)
}
