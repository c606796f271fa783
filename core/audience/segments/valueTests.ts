import type { FieldTest, TextTest } from './condition.ts'
import type { FieldValue } from '../describing/field.ts'
import { datePlus } from './within.ts'

/** Letters' case as both readers of conditions fold it. */
const folded = (text: string): string => text.toLowerCase()

/** Is it a test of text, which anybody's name or country can pass? */
export const isTextTest = (test: FieldTest): test is TextTest =>
  ['is', 'contains', 'startsWith', 'endsWith', 'isAnyOf', 'isSet'].includes(test.test)

/** Does a value that is always text (a name, a country) pass? Only tests of text can be passed. */
export function matchesText(test: FieldTest, value: string | undefined): boolean {
  return value !== undefined && isTextTest(test) && compareText(test, value)
}

function compareText(test: TextTest, value: string): boolean {
  const text = folded(value)
  switch (test.test) {
    case 'is':
      return text === folded(test.value)
    case 'contains':
      return text.includes(folded(test.value))
    case 'startsWith':
      return text.startsWith(folded(test.value))
    case 'endsWith':
      return text.endsWith(folded(test.value))
    case 'isAnyOf':
      return test.values.some((each) => folded(each) === text)
    case 'isSet':
      return text !== ''
  }
}

/** Does a value pass a test? No value passes none, and a value of another kind than the test is for fails. */
export function matchesTest(test: FieldTest, value: FieldValue | undefined, today: string): boolean {
  if (value === undefined) return false
  switch (test.test) {
    case 'isSet':
      return Array.isArray(value) ? value.length > 0 : value !== ''
    case 'isAnyOf':
      return Array.isArray(value)
        ? value.some((each) => compareText(test, each))
        : typeof value === 'string' && compareText(test, value)
    case 'is':
    case 'contains':
    case 'startsWith':
    case 'endsWith':
      return typeof value === 'string' && compareText(test, value)
    case 'hasAllOf':
      return (
        Array.isArray(value) && test.values.every((each) => value.some((has) => folded(has) === folded(each)))
      )
    case 'equals':
      return value === test.value
    case 'atLeast':
      return typeof value === 'number' && value >= test.value
    case 'atMost':
      return typeof value === 'number' && value <= test.value
    case 'isYes':
      return value === true
    case 'onOrAfter':
    case 'onOrBefore':
    case 'inLastDays':
    case 'inNextDays': {
      // Dates are stored as "2026-11-24", so that they compare as text.
      const range = dateRange(test, today)
      return isDate(value) && value >= range.from && value <= range.to
    }
  }
}

type DateTest = Extract<FieldTest, { test: 'onOrAfter' | 'onOrBefore' | 'inLastDays' | 'inNextDays' }>

/** The dates that a test of dates lets through, both ends included. */
export function dateRange(test: DateTest, today: string): { from: string; to: string } {
  switch (test.test) {
    case 'onOrAfter':
      return { from: test.date, to: '9999-12-31' }
    case 'onOrBefore':
      return { from: '0000-01-01', to: test.date }
    case 'inLastDays':
      return { from: datePlus(today, -test.days), to: today }
    case 'inNextDays':
      return { from: today, to: datePlus(today, test.days) }
  }
}

/** The form of a stored date; the other reader uses the same pattern in SQL. */
export const datePattern = '^\\d{4}-\\d{2}-\\d{2}$'
const isDate = (value: FieldValue): value is string =>
  typeof value === 'string' && new RegExp(datePattern).test(value)
