import type { FieldTest, TextTest } from '../../../core/audience/segments/condition.ts'
import { datePattern, dateRange, isTextTest } from '../../../core/audience/segments/valueTests.ts'
import type { Binds } from '../../database/binds.ts'

/** A comparison of text. */
function comparison(test: Exclude<TextTest, { test: 'isSet' }>, text: string, binds: Binds): string {
  switch (test.test) {
    case 'is':
      return `lower(${text}) = lower(${binds.add(test.value)}::text)`
    case 'contains':
      return `strpos(lower(${text}), lower(${binds.add(test.value)}::text)) > 0`
    case 'startsWith':
      return `starts_with(lower(${text}), lower(${binds.add(test.value)}::text))`
    case 'endsWith': {
      const end = binds.add(test.value)
      return `right(lower(${text}), length(lower(${end}::text))) = lower(${end}::text)`
    }
    case 'isAnyOf':
      return `lower(${text}) = any(${binds.add(test.values.map((value) => value.toLowerCase()))}::text[])`
  }
}

/** A test of a text column that is null when it is empty; false, never null, when nothing is there. */
export function textTestSql(test: FieldTest, text: string, binds: Binds): string {
  if (!isTextTest(test)) return 'false'
  if (test.test === 'isSet') return `coalesce(${text} <> '', false)`
  return `coalesce(${comparison(test, text, binds)}, false)`
}

type DateTest = Parameters<typeof dateRange>[0]

function datesSql(test: DateTest, text: string, today: string, binds: Binds): string {
  const { from, to } = dateRange(test, today)
  // The pattern is a parameter: a dollar sign in the statement itself would be taken for one.
  return `coalesce(${text} ~ ${binds.add(datePattern)} and ${text} collate "C" between ${binds.add(from)} and ${binds.add(to)}, false)`
}

/** A test of a jsonb value of an own field; a value of another kind than the test is for fails. */
export function fieldTestSql(test: FieldTest, value: string, today: string, binds: Binds): string {
  const text = `(${value} #>> '{}')`
  const isText = `jsonb_typeof(${value}) = 'string'`
  const elements = `jsonb_array_elements_text(case when jsonb_typeof(${value}) = 'array' then ${value} else '[]' end) each`
  const isNumber = `jsonb_typeof(${value}) = 'number'`
  switch (test.test) {
    case 'isSet':
      return `coalesce(${value} not in ('""', '[]'), false)`
    case 'isAnyOf': {
      const wanted = binds.add(test.values.map((each) => each.toLowerCase()))
      return `(coalesce(${isText} and lower(${text}) = any(${wanted}::text[]), false)
        or exists (select from ${elements} where lower(each) = any(${wanted}::text[])))`
    }
    case 'hasAllOf': {
      const wanted = binds.add([...new Set(test.values.map((each) => each.toLowerCase()))])
      return `${wanted}::text[] <@ array(select lower(each) from ${elements})`
    }
    case 'equals':
      return `coalesce(${value} = to_jsonb(${binds.add(test.value)}::numeric), false)`
    case 'atLeast':
      return `coalesce(case when ${isNumber} then ${text}::numeric >= ${binds.add(test.value)}::numeric end, false)`
    case 'atMost':
      return `coalesce(case when ${isNumber} then ${text}::numeric <= ${binds.add(test.value)}::numeric end, false)`
    case 'isYes':
      return `coalesce(${value} = 'true', false)`
    case 'onOrAfter':
    case 'onOrBefore':
    case 'inLastDays':
    case 'inNextDays':
      return `(coalesce(${isText}, false) and ${datesSql(test, text, today, binds)})`
    case 'is':
    case 'contains':
    case 'startsWith':
    case 'endsWith':
      return `(coalesce(${isText}, false) and ${textTestSql(test, text, binds)})`
  }
}
