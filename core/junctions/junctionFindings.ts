import { missingIn } from '../audience/segments/references.ts'
import { inlineSegments } from '../audience/segments/inlineSegments.ts'
import { leavesOf, type Condition } from '../audience/segments/condition.ts'
import type { Known } from '../audience/segments/cases.ts'
import type { Target } from '../blocks/target.ts'
import type { Finding } from '../pages/findings.ts'
import { isPrivateHost } from '../workspace/hosts.ts'
import { describeRuleProof, type Naming } from './describeJunction.ts'
import { waysOf, type JunctionContent } from './junction.ts'
import { proveJunction, type JunctionProof } from './proof.ts'

/** What the rest of the install says about the things that a junction speaks of. */
export interface JunctionSurroundings extends Naming, Omit<Known, 'scorecards'> {
  segments: Readonly<Record<number, Condition>>
  livePages: ReadonlySet<number>
  liveForms: ReadonlySet<number>
  livePopUps: ReadonlySet<number>
  liveQuizzes: ReadonlySet<number>
  /** Those that are on sale. */
  products: ReadonlySet<number>
  files: ReadonlySet<number>
  /** Where each named link leads. */
  namedLinks: ReadonlyMap<number, Target>
  /** Every junction that visitors can use, with its path, and all targets of it. */
  junctions: ReadonlyMap<number, { name: string; path: string; targets: readonly Target[] }>
  /** Where "next step" leads from junctions that stand on a funnel's line. */
  nextOf: ReadonlyMap<number, Target>
  /** Hosts of this install, under which `/j/…` is a junction. */
  ownHosts: ReadonlySet<string>
}

const error = (words: string, part: string | null = null): Finding => ({ level: 'error', words, part })
const advice = (words: string, part: string | null = null): Finding => ({ level: 'advice', words, part })

const junctionAtPath = (path: string, { junctions }: JunctionSurroundings): number | null => {
  const wanted = /^\/j\/([a-z0-9-]+)/i.exec(path)?.[1]?.toLowerCase()
  return [...junctions].find(([, each]) => each.path === wanted)?.[0] ?? null
}

/**
 * The junction that a target leads to: by its number, its address, a named link, or as the next step.
 * @param from the junction that it is a target of
 */
function junctionBehind(target: Target, from: number, around: JunctionSurroundings): number | null {
  switch (target.to) {
    case 'junction':
      return target.junction
    case 'path':
      return junctionAtPath(target.path, around)
    case 'web': {
      const { hostname, pathname } = new URL(target.url)
      return around.ownHosts.has(hostname) ? junctionAtPath(pathname, around) : null
    }
    case 'link': {
      const behind = around.namedLinks.get(target.link)
      // A named link never leads to another one.
      return behind && behind.to !== 'link' ? junctionBehind(behind, from, around) : null
    }
    case 'nextStep': {
      const next = around.nextOf.get(from)
      return next && next.to !== 'nextStep' ? junctionBehind(next, from, around) : null
    }
    case 'nowhere':
    case 'page':
    case 'file':
    case 'popUp':
    case 'quiz':
    case 'product':
    case 'cart':
      return null
  }
}

/** Does the way lead back to this junction, by itself or through others? @returns the names on the way, or null */
export function circleBy(id: number, first: Target, around: JunctionSurroundings): string[] | null {
  const seen = new Set<number>()
  const walk = (target: Target, from: number): string[] | null => {
    const next = junctionBehind(target, from, around)
    if (next === null || seen.has(next)) return null
    if (next === id) return []
    seen.add(next)
    const there = around.junctions.get(next)
    for (const each of there?.targets ?? []) {
      const found = walk(each, next)
      if (found) return [there?.name ?? '', ...found]
    }
    return null
  }
  return walk(first, id)
}

/** Why nobody can be sent there; null when they can. */
function faultOf(id: number, target: Target, around: JunctionSurroundings): string | null {
  switch (target.to) {
    case 'nowhere':
      return 'Choose where it leads'
    case 'page':
      return around.livePages.has(target.page) ? null : 'It leads to a page that is not live'
    case 'file':
      return around.files.has(target.file) ? null : 'It leads to a file that was deleted'
    case 'popUp':
      return around.livePopUps.has(target.popUp) ? null : 'It leads to a pop-up that is not live'
    case 'junction':
      return around.junctions.has(target.junction) ? null : 'It leads to a junction that is not live'
    case 'quiz':
      return around.liveQuizzes.has(target.quiz) ? null : 'It leads to a quiz that is not live'
    case 'link':
      return around.namedLinks.has(target.link) ? null : 'It leads to a named link that was deleted'
    case 'web':
      return isPrivateHost(new URL(target.url).hostname)
        ? 'It leads to a private address, which visitors cannot reach'
        : null
    case 'product':
      return around.products.has(target.product) ? null : 'It leads to a product that is not on sale'
    case 'nextStep':
      return around.nextOf.has(id)
        ? null
        : 'It leads to the next step of a funnel, and there is none behind it'
    case 'path':
    case 'cart':
      return null
  }
}

/** The rules with segments put in their place, and what is proved of them; nothing while some speak of what is gone. */
export function proofOf({ rules }: JunctionContent, around: JunctionSurroundings): JunctionProof | null {
  if (rules.some(({ when }) => missingIn(when, around.names).length > 0)) return null
  const asked = rules.map(({ id, when }) => ({ id, when: inlineSegments(when, around.segments) }))
  return proveJunction(asked, { fields: around.fields, scorecards: around.cards })
}

/**
 * Everything that would go wrong with a junction, errors first.
 * @param id its own number
 * @param proof what is proved of its rules; null while nothing can be
 */
export function findingsOfJunction(
  id: number,
  content: JunctionContent,
  around: JunctionSurroundings,
  proof: JunctionProof | null,
): Finding[] {
  const found: Finding[] = []
  for (const { part, target } of waysOf(content)) {
    const fault = faultOf(id, target, around)
    if (fault) found.push(error(fault, part))
    const circle = circleBy(id, target, around)
    if (circle)
      found.push(
        error(
          circle.length === 0
            ? 'It leads back to this junction: people would go round in a circle'
            : `It leads back here by ${circle.map((name) => `“${name}”`).join(' and ')}: people would go round in a circle`,
          part,
        ),
      )
  }
  for (const rule of content.rules) {
    const gone = missingIn(rule.when, around.names)
    if (gone.length > 0)
      found.push(error(`It asks about something that was deleted: ${gone.join(', ')}`, rule.id))
    if (leavesOf(rule.when).length === 0) found.push(advice('It asks nothing, and takes everybody', rule.id))
  }
  for (const each of proof?.rules ?? []) {
    const words = describeRuleProof(each, content.rules, around)
    if (words) found.push(error(words, each.id))
  }
  const { strangers } = content
  if (strangers.go === 'form') {
    if (strangers.form === null)
      found.push(error('Choose the form that visitors whom nobody knows send first'))
    else if (!around.liveForms.has(strangers.form))
      found.push(error('The form that visitors whom nobody knows send first is not live'))
  }
  if (content.trustsForms)
    found.push(advice('Whoever types somebody else’s address can see where its owner is sent'))
  return found.sort((a, b) => Number(a.level === 'advice') - Number(b.level === 'advice'))
}
