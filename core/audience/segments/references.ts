import { detailKinds } from '../people/activity.ts'
import { leavesOf, type Condition, type Leaf } from './condition.ts'
import { nameOf, singularNames, type NamedKind, type Names } from './names.ts'

/** A thing that a condition speaks of. */
export interface Reference {
  kind: NamedKind
  id: number
}

/** What the details of an activity refer to. */
export function referencesOfDetails(details: Readonly<Record<string, unknown>>): Reference[] {
  return Object.entries(details).flatMap(([name, value]) => {
    const kind = Object.hasOwn(detailKinds, name) ? detailKinds[name] : undefined
    return kind && typeof value === 'number' ? [{ kind, id: value }] : []
  })
}

/** What a leaf refers to. */
export function referencesOf(leaf: Leaf): Reference[] {
  switch (leaf.kind) {
    case 'hasTag':
      return [{ kind: 'tags', id: leaf.tag }]
    case 'field':
      return typeof leaf.field === 'number' ? [{ kind: 'fields', id: leaf.field }] : []
    case 'topic':
      return [{ kind: 'topics', id: leaf.topic }]
    case 'score':
    case 'band':
      return [{ kind: 'scorecards', id: leaf.scorecard }]
    case 'segment':
      return [{ kind: 'segments', id: leaf.segment }]
    case 'followup':
      return [{ kind: 'followups', id: leaf.followup }]
    case 'agreedTo':
      return [{ kind: 'wordings', id: leaf.wording }]
    case 'did':
      return referencesOfDetails(leaf.details)
    case 'state':
    case 'source':
    case 'created':
    case 'deadline':
      return []
  }
}

/** What was found before: of the same questions and names it is the same. */
const found = new WeakMap<Names, WeakMap<Leaf, boolean>>()

/** Does the leaf speak of something that is gone? Then nobody can tell whether it holds. */
export function isBroken(leaf: Leaf, names: Names): boolean {
  let here = found.get(names)
  if (!here) found.set(names, (here = new WeakMap()))
  let broken = here.get(leaf)
  if (broken === undefined) {
    broken = referencesOf(leaf).some(({ kind, id }) => names[kind][id] === undefined)
    here.set(leaf, broken)
  }
  return broken
}

/** What is gone, each once, in words: "the tag something deleted (7)". */
export function missingIn(tree: Condition, names: Names): string[] {
  const missing = leavesOf(tree)
    .flatMap(referencesOf)
    .filter(({ kind, id }) => names[kind][id] === undefined)
    .map(({ kind, id }) => `the ${singularNames[kind]} ${nameOf(names, kind, id)}`)
  return [...new Set(missing)]
}
