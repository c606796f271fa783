import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { numberedIds } from '../../testing/documents.ts'
import { noNames } from '../audience/segments/names.ts'
import { describeAsked, describeFormChanges, describeSending } from './describeForm.ts'
import { changeField, freshField, insertField, moveField, removePart, shiftPart } from './formEdits.ts'
import { fieldsOf, formContent, simpleForm, type Asks, type FormContent } from './form.ts'
import { findingsOfForm, type FormSurroundings } from './formFindings.ts'

const newId = numberedIds('field')
const twoSteps = (): FormContent => {
  const form = simpleForm()
  return {
    ...form,
    steps: [...form.steps, { id: 'secondstep', title: 'More', fields: [freshField('phone', 'telephone')] }],
  }
}
const orderOf = ({ steps }: FormContent): string[] =>
  steps.map(({ fields }) => fields.map(({ id }) => id).join(' '))

describe('an edit of a form', () => {
  it('moves fields within a step and over its ends', () => {
    const form = twoSteps()
    expect(orderOf(shiftPart(form, 'address', -1))).toEqual(['address firstname consent', 'telephone'])
    expect(orderOf(shiftPart(form, 'consent', 1))).toEqual(['firstname address', 'consent telephone'])
    expect(orderOf(shiftPart(form, 'telephone', -1))).toEqual(['firstname address consent telephone', ''])
    expect(shiftPart(form, 'firstname', -1)).toBe(form)
    expect(orderOf(moveField(form, 'firstname', { step: 0, index: 2 }))[0]).toBe('address consent firstname')
    expect(orderOf(shiftPart(form, 'secondstep', -1))).toEqual(['telephone', 'firstname address consent'])
  })

  it('keeps the last step', () => {
    const form = removePart(twoSteps(), 'firststep')
    expect(orderOf(form)).toEqual(['telephone'])
    expect(removePart(form, 'secondstep')).toBe(form)
  })

  it('leaves a form that is valid, with the same fields, whatever is moved where', () => {
    const ids = ['firstname', 'address', 'consent', 'telephone']
    const move = fc.tuple(fc.constantFrom(...ids), fc.nat({ max: 1 }), fc.nat({ max: 5 }))
    fc.assert(
      fc.property(fc.array(move, { maxLength: 12 }), (moves) => {
        const moved = moves.reduce(
          (form, [id, step, index]) => moveField(form, id, { step, index }),
          twoSteps(),
        )
        expect(formContent.safeParse(moved).success).toBe(true)
        expect(
          fieldsOf(moved)
            .map(({ id }) => id)
            .sort(),
        ).toEqual([...ids].sort())
      }),
    )
  })

  it('can put in a field of every kind', () => {
    const kinds: Asks[] = ['firstName', 'lastName', 'phone', 'country', 'own', 'message', 'consent', 'hidden']
    const form = kinds.reduce(
      (all, asks) => insertField(all, freshField(asks, newId()), { step: 0, index: 0 }),
      simpleForm(),
    )
    expect(formContent.safeParse(form).error).toBeUndefined()
    expect(describeAsked(form, [])).toContain('phone number')
  })
})

describe('what is told of a form', () => {
  const form = simpleForm({
    confirm: { when: 'always', confirmedTag: 2 },
    actions: [
      { does: 'addTag', tag: 1 },
      { does: 'sendFile', file: 7 },
      { does: 'notifyTeam' },
      { does: 'addTag' },
    ],
  })

  it('is what it does, in sentences, with what scorecards give for it', () => {
    const names = {
      ...noNames(),
      tags: { 1: 'Template pack', 2: 'Confirmed' },
      files: { 7: 'Templates.pdf' },
    }
    expect(describeSending(form, names, ['gives 5 points on the scorecard “Interest”'])).toEqual([
      'everybody confirms their address by a click in an email',
      'then it puts on the tag “Confirmed”',
      'puts on the tag “Template pack”',
      'sends the file “Templates.pdf” by email',
      'writes to your team what was sent',
      'gives 5 points on the scorecard “Interest”',
      'says “Thank you”',
    ])
  })

  it('is what has changed since', () => {
    const changed = changeField({ ...form, button: 'Go' }, {
      ...freshField('address', 'address'),
      label: 'Email',
    } as never)
    const longer = insertField(changed, freshField('country', 'whereabouts'), { step: 0, index: 0 })
    expect(describeFormChanges(form, longer)).toEqual([
      'Changed button',
      'Added “Country”',
      'Changed “Email”',
    ])
    expect(describeFormChanges(form, structuredClone(form))).toEqual([])
  })
})

describe('the checks of a form', () => {
  const around: FormSurroundings = {
    fields: [{ id: 1, name: 'Size', kind: 'text', options: [] }],
    tags: new Set([1]),
    topics: new Set([1]),
    files: new Set(),
    followups: new Set(),
    livePages: new Set([1]),
    liveJunctions: new Set<number>(),
  }
  const found = (given: Parameters<typeof simpleForm>[0]) =>
    findingsOfForm(simpleForm(given), around).map(({ level, words }) => `${level}: ${words}`)

  it('find nothing in a simple form', () => expect(found({})).toEqual([]))

  it.each([
    [
      { steps: [{ id: 'firststep', fields: [] }] },
      'error: Ask for the email address: it is how a person is known',
    ],
    [{ button: ' ' }, 'error: Write what the button says'],
    [{ actions: [{ does: 'sendFile', file: 7 }] }, 'error: Choose what is still open under “What it does”'],
    [{ after: { then: 'go' } }, 'error: Choose where it leads after sending'],
    [
      { after: { then: 'go', target: { to: 'page', page: 9 } } },
      'advice: After sending it leads to a page that is not live',
    ],
    [{ confirm: { when: 'byCountry' } }, 'error: Choose the countries in which people confirm'],
    [{ confirm: { when: 'always', waitingTag: 9 } }, 'error: A tag of the double opt-in was deleted'],
  ] as const)('name what would go wrong: %j', (given, words) =>
    expect(found(given as never)).toContain(words),
  )

  it('advise against many fields: each costs sign-ups (common practice)', () => {
    const many = (['lastName', 'phone', 'country'] as const).map((asks) => freshField(asks, newId()))
    const [step] = simpleForm().steps
    expect(found({ steps: [{ ...step!, fields: [...step!.fields, ...many] }] })).toEqual([
      'advice: 5 fields: each one beyond two or three costs sign-ups',
    ])
  })
})
