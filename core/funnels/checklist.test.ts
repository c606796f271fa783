import { describe, expect, it } from 'vitest'
import { composer } from '../blocks/compose.ts'
import { numberedIds } from '../../testing/documents.ts'
import { checklist, emptyParts, wordsIn, type ChecklistItem, type FunnelProgress } from './checklist.ts'

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
  things: [],
  fileChosen: null,
  senderConfirmed: false,
  postalAddress: false,
  domain: false,
  icon: false,
  countedByOthers: false,
  rehearsed: false,
  live: false,
}

const leftOf = (progress: FunnelProgress, errors = 2): ChecklistItem[] => checklist(5, progress, errors)

describe('the checklist of a funnel', () => {
  it('knows the parts that are still to be written: those with guidance and nothing in them', () => {
    expect(emptyParts(page)).toBe(2)
    // What is chosen is no word.
    expect(wordsIn(page)).toBe('Fold it')
  })

  it('ticks a page once somebody has written and nothing is empty', () => {
    const thing = { kind: 'page' as const, id: 3, name: 'Landing', empty: 2, touched: true }
    const of = (rest: Partial<typeof thing>): ChecklistItem | undefined =>
      leftOf({ ...nothing, things: [{ ...thing, ...rest }] })[0]
    expect(of({})).toMatchObject({ done: false, hint: '2 parts are still empty', to: '/library/pages/3' })
    expect(of({ empty: 0 })).toMatchObject({ done: true, hint: '' })
    expect(of({ empty: 0, touched: false })).toMatchObject({
      done: false,
      hint: 'These are our words: make them yours',
    })
  })

  it('asks for a file only where one is given, and for all else in the order in which one does it', () => {
    const keys = (progress: FunnelProgress): string[] => leftOf(progress).map(({ key }) => key)
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
    const needed = leftOf(nothing).filter(({ optional }) => !optional)
    expect(needed.map(({ key }) => key)).toEqual(['address', 'mended', 'live'])
    const all = leftOf(
      {
        ...nothing,
        senderConfirmed: true,
        postalAddress: true,
        domain: true,
        icon: true,
        countedByOthers: true,
        rehearsed: true,
        live: true,
      },
      0,
    )
    expect(all.every(({ done }) => done)).toBe(true)
  })
})
