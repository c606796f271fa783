import { describe, expect, it } from 'vitest'
import { typedName } from './typedName.ts'

const isName = (typed: string): boolean => typedName.safeParse(typed).success

describe('a name that a stranger types', () => {
  it.each([
    'Orla',
    '  Orla  ',
    'Anne-Sophie de la Tour',
    "O'Brien",
    'J. R.',
    'J.R.',
    'Dr. Å. Öberg',
    '小林 美咲',
    'عائشة',
    '',
    'x'.repeat(80),
    '😀'.repeat(80),
  ])('%j is a name', (typed) => expect(isName(typed)).toBe(true))

  it.each([
    'x'.repeat(81),
    'write to me@evil.test',
    'https://evil.test',
    'evil.test/win',
    'Win money at evil.example',
    'WWW evil test',
    'evil。test',
    'evil．test',
    '<b>Orla</b>',
    'Orla\nBcc: everybody',
    'Orla\u2028Second line',
    'a\u0000b',
  ])('%j is none', (typed) => expect(isName(typed)).toBe(false))

  it('is trimmed', () => expect(typedName.parse('  Orla ')).toBe('Orla'))
})
