import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Field } from '../audience/describing/field.ts'
import { attacks } from '../../testing/documents.ts'
import { firstFaultyStep, readAnswers } from './answers.ts'
import { formContent, simpleForm, type FormContent } from './form.ts'

const own: Field[] = [
  { id: 1, name: 'Pages', kind: 'number', options: [] },
  { id: 2, name: 'Began', kind: 'date', options: [] },
  { id: 3, name: 'Has a press', kind: 'yesNo', options: [] },
  {
    id: 4,
    name: 'Binding',
    kind: 'oneOf',
    options: [
      { id: 'coptic', label: 'Coptic' },
      { id: 'long', label: 'Long-stitch' },
    ],
  },
  {
    id: 5,
    name: 'Tools',
    kind: 'manyOf',
    options: [
      { id: 'awl', label: 'Awl' },
      { id: 'bone', label: 'Bone folder' },
    ],
  },
  { id: 6, name: 'Size', kind: 'text', options: [] },
]
const asking = <const T extends object>(id: string, given: T) => ({ id, label: id, ...given })
const everything: FormContent = simpleForm({
  steps: [
    {
      id: 'firststep',
      fields: [
        asking('address', { asks: 'address' }),
        asking('firstname', { asks: 'firstName', required: true, fault: 'We like to know who you are' }),
        asking('telephone', { asks: 'phone' }),
        asking('country', { asks: 'country' }),
      ],
    },
    {
      id: 'secondstep',
      fields: [
        ...own.map(({ id, name }) => asking(`ownfield${id}`, { asks: 'own', field: id, label: name })),
        asking('message', { asks: 'message' }),
        asking('consent', { asks: 'consent', required: false }),
        { id: 'hidden', asks: 'hidden', field: 6, value: { from: 'address', name: 'size' } },
      ],
    },
  ],
})
const right = { address: 'Orla@Postbox.test', firstname: 'Orla' }
const read = (typed: Record<string, string>, country: string | null = null) =>
  readAnswers(everything, { ...right, ...typed }, own, country)

describe('what is typed into a form', () => {
  it('is read by what each field asks for', () => {
    const { answers, faults } = read({
      telephone: '01 234 5678',
      country: 'Ireland',
      ownfield1: '1 200,5',
      ownfield2: '2026-03-04',
      ownfield3: 'yes',
      ownfield4: 'coptic',
      ownfield5: 'awl;bone',
      hidden: 'A5',
      message: 'Do you ship to Cork?',
      consent: 'yes',
    })
    expect(faults).toEqual({})
    expect(answers).toEqual({
      address: { shown: 'Orla@Postbox.test', key: 'orla@postbox.test' },
      firstName: 'Orla',
      // E.164 by the country that was typed (ITU-T E.164; libphonenumber-js).
      phone: '+35312345678',
      country: 'IE',
      own: { 1: 1200.5, 2: '2026-03-04', 3: true, 4: 'coptic', 5: ['awl', 'bone'], 6: 'A5' },
      message: 'Do you ship to Cork?',
      agreed: ['consent'],
    })
  })

  it('reads a number as at home, by the browser where the form does not ask', () => {
    expect(read({ telephone: '030 123456' }, 'DE').answers.phone).toBe('+4930123456')
    expect(read({ telephone: '030 123456' }).faults.telephone).toContain('country code')
  })

  it.each([
    ['no address', { address: '' }, 'address', 'Please write your email address'],
    ['a name that has to be there', { firstname: ' ' }, 'firstname', 'We like to know who you are'],
    ['a number in words', { ownfield1: 'many' }, 'ownfield1', 'is not a number'],
    ['a date of two meanings', { ownfield2: '03/04/2026' }, 'ownfield2', 'is not a date'],
    ['a choice that there is not', { ownfield4: 'glue' }, 'ownfield4', 'is not one of Coptic, Long-stitch'],
    ['a country that there is not', { country: 'Atlantis' }, 'country', 'choose a country'],
    ['a long message', { message: 'x'.repeat(2_001) }, 'message', 'shorten this to 2,000'],
  ])('says at its place what is wrong with %s', (_what, typed, at, words) => {
    const { faults } = read(typed)
    expect(Object.keys(faults)).toEqual([at])
    expect(faults[at]).toContain(words)
  })

  it('takes a hidden value that cannot be read for none: it is nobody’s fault', () => {
    expect(read({ hidden: 'x'.repeat(1_001) })).toMatchObject({ faults: {}, answers: { own: {} } })
  })

  it('knows the first step that is not right, whatever the order', () => {
    expect(firstFaultyStep(everything, read({ ownfield1: 'many' }).faults)).toBe(1)
    expect(firstFaultyStep(everything, read({ ownfield1: 'many', address: '' }).faults)).toBe(0)
    expect(firstFaultyStep(everything, {})).toBe(2)
  })

  it('never throws, and takes nothing in that its fields do not allow', () => {
    const words = fc.oneof(fc.constantFrom(...attacks), fc.string({ unit: 'binary', maxLength: 300 }))
    const names = everything.steps.flatMap(({ fields }) => fields.map(({ id }) => id))
    fc.assert(
      fc.property(fc.dictionary(fc.constantFrom(...names, '__proto__', 'other'), words), (typed) => {
        const { answers, faults } = readAnswers(everything, typed, own, null)
        for (const [id, value] of Object.entries(answers.own))
          expect(own.some((field) => String(field.id) === id) && value !== '').toBe(true)
        expect(answers.firstName ?? '').not.toMatch(/[<>@]|:\/\//)
        expect(answers.phone ?? '+1').toMatch(/^\+\d+$/)
        for (const id of Object.keys(faults)) expect(names).toContain(id)
      }),
    )
  })
})

describe('the shape of a form', () => {
  it('refuses two parts of one id, and ids that the form uses itself', () => {
    const [step] = simpleForm().steps
    const twice = { ...simpleForm(), steps: [step, step] }
    expect(formContent.safeParse(twice).error?.issues[0]?.message).toBe('Each part needs an id of its own')
    const named = { ...simpleForm(), steps: [{ ...step, fields: [{ ...step!.fields[1], id: 'website' }] }] }
    expect(formContent.safeParse(named).success).toBe(false)
  })
})
