import { describe, expect, it } from 'vitest'
import { z } from 'zod'
import { condition } from '../audience/segments/condition.ts'
import { formContent } from '../capture/form.ts'
import { popUpContent } from '../capture/popUp.ts'
import { emailContent } from '../email/email.ts'
import { program } from '../followups/program.ts'
import { station } from '../funnels/funnel.ts'
import { funnelSettings } from '../funnels/settings.ts'
import { junctionContent } from '../junctions/junction.ts'
import { pageContent } from '../pages/page.ts'
import { section } from './document.ts'
import { linkAction } from '../email/linkAction.ts'
import { numbersIn, referenceNames, renumber } from './renumber.ts'

/** The names of all properties of a JSON schema (draft 2020-12) that are whole numbers above zero without an end, or lists of them. */
function idNames(schema: unknown, name = '', found = new Set<string>()): Set<string> {
  if (typeof schema !== 'object' || schema === null) return found
  const { type, exclusiveMinimum, maximum, items, properties } = schema as Record<string, unknown>
  // Zod says the largest whole number that JavaScript has where nothing else is said.
  if (type === 'integer' && exclusiveMinimum === 0 && maximum === Number.MAX_SAFE_INTEGER) found.add(name)
  if (type === 'array') idNames(items, name, found)
  if (typeof properties === 'object' && properties !== null)
    for (const [key, value] of Object.entries(properties)) idNames(value, key, found)
  for (const [key, value] of Object.entries(schema))
    if (key !== 'properties' && key !== 'items' && typeof value === 'object' && value !== null)
      for (const each of Object.values(value as object)) idNames(each, name, found)
  return found
}

const json = (shape: z.ZodType): unknown =>
  z.toJSONSchema(shape, { io: 'output', unrepresentable: 'any', reused: 'inline' })

describe('numbers of what contents speak of', () => {
  it.each([
    ['a page', pageContent],
    ['a section', section],
    ['a form', formContent],
    ['a pop-up', popUpContent],
    ['an email', emailContent],
    ['what a click does', linkAction],
    ['a follow-up', program],
    ['a junction', junctionContent],
    ['a condition', condition],
    ['a station', station],
    ['the settings of a funnel', funnelSettings],
  ])('are known by every name under which %s has one', (_, shape) => {
    const unknown = [...idNames(json(shape))].filter((name) => !referenceNames.has(name))
    expect(unknown).toEqual([])
  })

  it('are found in what has many', () => {
    const found = [pageContent, emailContent, program, condition, formContent].flatMap((each) => [
      ...idNames(json(each)),
    ])
    expect([...new Set(found)].sort()).toEqual(
      expect.arrayContaining([
        'page',
        'picture',
        'form',
        'file',
        'popUp',
        'tag',
        'topic',
        'email',
        'segment',
        'scorecard',
        'followup',
      ]),
    )
  })

  it('are told apart by what they are in: a link of the Library, and one of mail that was sent', () => {
    const content = {
      target: { to: 'link', link: 4 },
      when: { kind: 'did', activity: 'emailClicked', details: { email: 2, link: 9 }, atLeast: 1 },
    }
    expect(numbersIn(content)).toEqual([
      { kind: 'namedLinks', id: 4 },
      { kind: 'emails', id: 2 },
      { kind: 'links', id: 9 },
    ])
    expect(renumber(content, (kind, id) => (kind === 'links' ? 90 : id))).toMatchObject({
      target: { link: 4 },
      when: { details: { email: 2, link: 90 } },
    })
  })

  it('are changed in lists, and nothing else is', () => {
    const field = { asks: 'consent', id: 'consent', topics: [1, 2], required: true }
    expect(renumber(field, (_, id) => id + 10)).toEqual({ ...field, topics: [11, 12] })
    const wait = { kind: 'waitFor', id: 'a', amount: 3, unit: 'days' }
    expect(renumber(wait, () => 99)).toEqual(wait)
    expect(renumber({ kind: 'field', field: 'country' }, () => 99)).toEqual({
      kind: 'field',
      field: 'country',
    })
  })
})
