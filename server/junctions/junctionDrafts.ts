import type { FindingView } from '../../contract/drafts.ts'
import type { JunctionProofView } from '../../contract/junctions.ts'
import {
  describeJunctionChanges,
  describePerson,
  describeRuleProof,
  describeUntaken,
} from '../../core/junctions/describeJunction.ts'
import { junctionContent, type JunctionContent } from '../../core/junctions/junction.ts'
import type { JunctionProof } from '../../core/junctions/proof.ts'
import {
  findingsOfJunction,
  proofOf,
  type JunctionSurroundings,
} from '../../core/junctions/junctionFindings.ts'
import { loadAllNames } from '../audience/segments/names.ts'
import { loadScorecards } from '../audience/scores/scoring.ts'
import { draftsOf, type Drafts } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { loadJunctionSurroundings } from './surroundings.ts'

interface Looked {
  around: JunctionSurroundings
  proof: JunctionProof | null
}

/** What was found of a content: its check and its view ask the same within one request. */
const looked = new WeakMap<JunctionContent, Promise<Looked>>()

async function look(q: Queries, content: JunctionContent, publicUrl: string | null): Promise<Looked> {
  const around = await loadJunctionSurroundings(q, content, publicUrl)
  return { around, proof: proofOf(content, around) }
}

function lookInto(q: Queries, content: JunctionContent, publicUrl: string | null): Promise<Looked> {
  const known = looked.get(content) ?? look(q, content, publicUrl)
  looked.set(content, known)
  return known
}

/**
 * How junctions are drafted and published.
 * @param publicUrl where the public site is found; null where nobody knows, and then its addresses are as others
 */
export const junctionDrafts = (publicUrl: string | null): Drafts<JunctionContent> =>
  draftsOf<JunctionContent>({
    table: 'junction',
    word: 'junction',
    shape: junctionContent,
    prepare: (content) => content,
    findings: async (q, id, content) => {
      const { around, proof } = await lookInto(q, content, publicUrl)
      return findingsOfJunction(id, content, around, proof)
    },
    describeChanges: async (before, after, q) =>
      describeJunctionChanges(before, after, {
        names: await loadAllNames(q),
        cards: Object.fromEntries(await loadScorecards(q)),
      }),
  })

/** What is proved of a junction, in words. @param publicUrl as its check was asked with */
export async function viewProof(
  q: Queries,
  content: JunctionContent,
  publicUrl: string | null,
): Promise<JunctionProofView> {
  const { around, proof } = await lookInto(q, content, publicUrl)
  if (!proof) return { provable: false, rules: [], untaken: [] }
  return {
    provable: true,
    rules: proof.rules.map((each) => ({
      id: each.id,
      is: each.is,
      example: 'example' in each ? describePerson(each.example, around) : null,
      words: describeRuleProof(each, content.rules, around),
    })),
    untaken: describeUntaken(proof, around),
  }
}

/** What the check of a junction finds, as it is written now. @param livePages those that will be live */
export async function checkJunction(
  q: Queries,
  id: number,
  livePages: ReadonlySet<number>,
): Promise<FindingView[]> {
  const { content } = await junctionDrafts(null).newest(q, id)
  const { around, proof } = await lookInto(q, content, null)
  return findingsOfJunction(id, content, { ...around, livePages }, proof)
}
