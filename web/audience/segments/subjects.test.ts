import { describe, expect, it } from 'vitest'
import { activityDetails, activityKind } from '../../../core/audience/people/activity.ts'
import { condition } from '../../../core/audience/segments/condition.ts'
import { namedKinds, noNames } from '../../../core/audience/segments/names.ts'
import { vocabulary } from '../../../testing/vocabulary.ts'
import { activities, offered } from './activities.ts'
import { asGroup, isGroup, subjectOf, subjects, unwrap, wrap } from './subjects.ts'

const tag = { kind: 'hasTag', tag: 1 } as const

describe('what a condition can be about', () => {
  it('is every kind of activity, but for a rehearsal’s clock', () => {
    const missing = activityKind.options.filter((kind) => !offered(kind))
    expect(missing).toEqual(['clockMoved'])
    expect(new Set(activities.map(({ kind }) => kind)).size).toBe(activities.length)
  })

  it('asks of an activity only what it tells', () => {
    for (const { kind, detail, things, more } of activities) {
      const told = Object.keys(activityDetails[kind].shape)
      if (detail) expect(told, kind).toContain(detail)
      if (things) expect(namedKinds, kind).toContain(things)
      if (more) expect(told, kind).toContain(more.detail)
    }
  })

  it('offers no word for a detail that an activity never has', () => {
    // The words of a detail are those of its schema: a renamed one would never match anybody.
    for (const { kind, more } of activities) {
      if (!more) continue
      const shape: Record<string, { safeParse(value: unknown): { success: boolean } }> =
        activityDetails[kind].shape
      for (const value of Object.keys(more.words))
        expect(shape[more.detail]?.safeParse(value).success, `${kind} ${value}`).toBe(true)
    }
  })

  it.each(subjects.map((subject) => [subject.id, subject] as const))(
    '%s begins with a line that the server takes, and knows itself again',
    (id, subject) => {
      const leaf = subject.leaf(vocabulary)
      expect(condition.safeParse(leaf).success).toBe(true)
      expect(subjectOf(leaf)).toBe(id)
      expect(subject.title).not.toBe(subject.not)
    },
  )

  it('begins with something to choose as long as there is nothing of the kind', () => {
    const empty = {
      names: noNames(),
      fields: [],
      scorecards: {},
      links: {},
      parts: { results: {}, answers: {}, rules: {}, prices: {} },
      deadlines: [],
      coupons: [],
    }
    const leaf = subjects.find(({ id }) => id === 'hasTag')!.leaf(empty)
    expect(leaf).toEqual({ kind: 'hasTag', tag: 0 })
    // No tag has the id 0: it is not sent before something is chosen.
    expect(condition.safeParse(leaf).success).toBe(false)
  })
})

describe('a part of a condition', () => {
  it('is told apart from its “not”, however many there are', () => {
    expect(unwrap(tag)).toEqual({ negated: false, inner: tag })
    expect(unwrap({ kind: 'not', of: tag })).toEqual({ negated: true, inner: tag })
    expect(unwrap({ kind: 'not', of: { kind: 'not', of: tag } })).toEqual({ negated: false, inner: tag })
  })

  it('gets it back', () => {
    expect(wrap(true, tag)).toEqual({ kind: 'not', of: tag })
    expect(wrap(false, tag)).toBe(tag)
  })

  it('is shown as a group, whatever it is', () => {
    expect(asGroup(null)).toEqual({ kind: 'all', of: [] })
    expect(asGroup(tag)).toEqual({ kind: 'all', of: [tag] })
    expect(asGroup({ kind: 'not', of: tag })).toEqual({ kind: 'all', of: [{ kind: 'not', of: tag }] })
    const any = { kind: 'any' as const, of: [tag] }
    expect(asGroup(any)).toBe(any)
    expect(isGroup(any)).toBe(true)
    expect(isGroup(tag)).toBe(false)
  })
})
