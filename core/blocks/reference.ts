import { z } from 'zod'
import type { Target, TargetKind } from './target.ts'
import type { Reference as ConditionReference } from '../audience/segments/references.ts'

/** A thing of the Library, or of the people's part, that a document speaks of. */
export type Reference =
  ConditionReference | { kind: 'pictures' | 'details' | 'popUps' | 'namedLinks'; id: number }

export const referenceId = z.number().int().positive()

const referenceOfTarget: { [K in TargetKind]: (target: Extract<Target, { to: K }>) => Reference | null } = {
  nowhere: () => null,
  nextStep: () => null,
  web: () => null,
  path: () => null,
  cart: () => null,
  page: ({ page }) => ({ kind: 'pages', id: page }),
  file: ({ file }) => ({ kind: 'files', id: file }),
  popUp: ({ popUp }) => ({ kind: 'popUps', id: popUp }),
  junction: ({ junction }) => ({ kind: 'junctions', id: junction }),
  quiz: ({ quiz }) => ({ kind: 'quizzes', id: quiz }),
  product: ({ product }) => ({ kind: 'products', id: product }),
  link: ({ link }) => ({ kind: 'namedLinks', id: link }),
}

/** The thing that a target leads to, if it is one of ours. */
export function referenceOf(target: Target): Reference | null {
  return (referenceOfTarget[target.to] as (target: Target) => Reference | null)(target)
}

/** References to these things, those left out that are not chosen yet. */
export const chosen = <K extends Reference['kind']>(
  kind: K,
  ...ids: readonly (number | null)[]
): { kind: K; id: number }[] => ids.flatMap((id) => (id === null ? [] : [{ kind, id }]))
