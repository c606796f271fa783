import { describe, expect, it } from 'vitest'
import { composer } from '../blocks/compose.ts'
import { numberedIds } from '../../testing/documents.ts'
import { emptyParts, leftToDo, wordsIn, type FunnelProgress } from './leftToDo.ts'

const { block, text, section, document } = composer(numberedIds('left'))
const page = document(
  section([
    {
      blocks: [
        block('heading', { words: 'Fold it', guidance: 'A promise' }),
        { ...text(''), guidance: 'Two sentences' },
        block('list', { items: ['', ''], guidance: 'Three things' }),
        block('button', { label: 'Go', guidance: 'Leads on' }),
        text(''),
      ],
    },
  ]),
)
const nothing: FunnelProgress = {
  id: 5,
  things: [],
  fileChosen: null,
  senderConfirmed: false,
  postalAddress: false,
  domain: false,
  icon: false,
  countedBy: 'none',
  rehearsed: false,
  errors: 2,
  live: false,
}

describe('what is left to do', () => {
  it('knows the parts that are still to be written: those with guidance and nothing in them', () => {
    expect(emptyParts(page)).toBe(2)
    // What is chosen is no word.
    expect(wordsIn(page)).toBe('Fold it')
  })

  it('ticks a page once somebody has written and nothing is empty', () => {
    const thing = { kind: 'page' as const, id: 3, name: 'Landing', document: page, touched: true }
    const filled = {
      ...thing,
      document: document(section([{ blocks: [block('heading', { words: 'Mine' })] }])),
    }
    const [first] = leftToDo({ ...nothing, things: [thing] })
    expect(first).toMatchObject({ done: false, hint: '2 parts are still empty', to: '/library/pages/3' })
    expect(leftToDo({ ...nothing, things: [filled] })[0]).toMatchObject({ done: true, hint: '' })
    expect(leftToDo({ ...nothing, things: [{ ...filled, touched: false }] })[0]).toMatchObject({
      done: false,
      hint: 'These are our words: make them yours',
    })
  })

  it('asks for a file only where one is given, and for all else in the order in which one does it', () => {
    const keys = (progress: FunnelProgress): string[] => leftToDo(progress).map(({ key }) => key)
    expect(keys(nothing)).toEqual([
      'sender',
      'address',
      'domain',
      'icon',
      'tracking',
      'mended',
      'rehearsed',
      'live',
    ])
    expect(keys({ ...nothing, fileChosen: false })[0]).toBe('file')
    const needed = leftToDo(nothing).filter(({ optional }) => !optional)
    expect(needed.map(({ key }) => key)).toEqual(['address', 'mended', 'live'])
    const all = leftToDo({
      ...nothing,
      senderConfirmed: true,
      postalAddress: true,
      domain: true,
      icon: true,
      countedBy: 'withConsent',
      rehearsed: true,
      errors: 0,
      live: true,
    })
    expect(all.every(({ done }) => done)).toBe(true)
  })
})
