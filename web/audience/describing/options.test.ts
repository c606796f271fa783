import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { optionsFrom } from './options.ts'

const known = [
  { id: 'coptic', label: 'Coptic' },
  { id: 'long-stitch', label: 'Long stitch' },
]

describe('the choices of a field', () => {
  it('keep their ids when lines are added before, between and after them', () => {
    expect(optionsFrom('Secret Belgian\nCoptic\nJapanese\nLong stitch\nCase', known)).toEqual([
      { id: 'secret-belgian', label: 'Secret Belgian' },
      { id: 'coptic', label: 'Coptic' },
      { id: 'japanese', label: 'Japanese' },
      { id: 'long-stitch', label: 'Long stitch' },
      { id: 'case', label: 'Case' },
    ])
  })

  it('keep the id of one that is written anew in its place, so that nobody’s answer is lost', () => {
    expect(optionsFrom('Coptic stitch\nLong stitch', known)).toEqual([
      { id: 'coptic', label: 'Coptic stitch' },
      { id: 'long-stitch', label: 'Long stitch' },
    ])
  })

  it('keep their ids when they change places', () => {
    expect(optionsFrom('Long stitch\nCoptic', known).map(({ id }) => id)).toEqual(['long-stitch', 'coptic'])
  })

  it('leave out empty lines and what is there twice', () => {
    expect(optionsFrom('\n Coptic \nCoptic\n\n', known)).toEqual([{ id: 'coptic', label: 'Coptic' }])
  })

  it('have an id also where no letter of the label can be in one, and never one twice', () => {
    expect(optionsFrom('製本\n装丁\nOption', [])).toEqual([
      { id: 'option', label: '製本' },
      { id: 'option-2', label: '装丁' },
      { id: 'option-3', label: 'Option' },
    ])
  })

  it('never share an id, whatever is typed over whatever was there', () => {
    const label = fc.constantFrom<string>('A', 'B', 'C', 'a', 'A!', 'é', 'B b')
    fc.assert(
      fc.property(fc.array(label), fc.array(label), (before, after) => {
        const first = optionsFrom(before.join('\n'), [])
        const next = optionsFrom(after.join('\n'), first)
        expect(new Set(next.map(({ id }) => id)).size).toBe(next.length)
        expect(next.map(({ label: each }) => each)).toEqual([...new Set(after)])
        // What was there under the same words is still the same choice.
        for (const { id, label: each } of first)
          if (after.includes(each)) expect(next.find((option) => option.label === each)?.id).toBe(id)
      }),
    )
  })
})
