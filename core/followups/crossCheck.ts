import type { CheckContext, Finding, OtherFollowup } from './finding.ts'
import { sendsByPath } from './pace.ts'
import type { Program } from './program.ts'
import { describeStart } from './sentences.ts'
import type { StartRule } from './start.ts'
import { allSteps, type Step } from './step.ts'

const hour = 3_600_000

/** Do two rules let people in by the same thing? One that leaves details open counts for those that name them. */
function isSame(a: StartRule, b: StartRule): boolean {
  if (a.kind !== b.kind) return false
  const [one, other]: [Record<string, unknown>, Record<string, unknown>] = [{ ...a }, { ...b }]
  return Object.keys(one).every((name) => other[name] === undefined || other[name] === one[name])
}

/** Two that start from the same thing and both write within the hour. */
function writeTogether(program: Program, { others, names, emails }: CheckContext): Finding[] {
  const isMarketing = (email: number): boolean => emails[email]?.purpose !== 'transactional'
  const firsts = (of: Program) =>
    sendsByPath(of, isMarketing).flatMap(([first]) => (first && first.at < hour ? [first] : []))
  const [own] = firsts(program)
  if (!own) return []
  return others.flatMap(({ name, program: other }) => {
    const shared = program.startsWhen.find((rule) => other.startsWhen.some((each) => isSame(rule, each)))
    return shared && firsts(other).length > 0
      ? [
          {
            level: 'advice' as const,
            part: own.step,
            words: `“${name}” starts from the same thing (somebody ${describeStart(shared, names)}), and both write within the hour`,
          },
        ]
      : []
  })
}

/** What a step does that can let somebody into a follow-up. */
function letsInto(step: Step, { id, program }: OtherFollowup): boolean {
  if (step.kind === 'startFollowup') return step.followup === id
  if (step.kind === 'addTag')
    return program.startsWhen.some((rule) => rule.kind === 'tagAdded' && rule.tag === step.tag)
  if (step.kind === 'removeTag')
    return program.startsWhen.some((rule) => rule.kind === 'tagRemoved' && rule.tag === step.tag)
  if (step.kind === 'joinTopic')
    return program.startsWhen.some((rule) => rule.kind === 'topicJoined' && rule.topic === step.topic)
  if (step.kind === 'leaveTopic')
    return program.startsWhen.some((rule) => rule.kind === 'topicLeft' && rule.topic === step.topic)
  return false
}

/** Ways from this follow-up through others back into itself, where people come in again and again. */
function circles(program: Program, { id, others }: CheckContext): Finding[] {
  const own: OtherFollowup = { id, name: '', program }
  const all = [own, ...others.filter((other) => other.id !== id)]
  const comesBack = (from: OtherFollowup, seen: ReadonlySet<number>): string[] | null => {
    for (const next of all) {
      if (!allSteps(from.program.steps).some((step) => letsInto(step, next))) continue
      if (next.id === id) return []
      if (seen.has(next.id)) continue
      const rest = comesBack(next, new Set([...seen, next.id]))
      if (rest) return [next.name, ...rest]
    }
    return null
  }
  const way = comesBack(own, new Set([id]))
  if (!way || program.reentry === 'never') return []
  const step = allSteps(program.steps).find((each) => all.some((next) => letsInto(each, next)))?.id ?? null
  const through = way.length === 0 ? 'by itself' : `through ${way.map((name) => `“${name}”`).join(', ')}`
  return [
    {
      level: program.reentry === 'always' ? 'error' : 'advice',
      part: step,
      words: `It starts itself again ${through}: people may never get out of it`,
    },
  ]
}

/** What goes wrong between follow-ups. */
export const crossCheck = (program: Program, context: CheckContext): Finding[] => [
  ...writeTogether(program, context),
  ...circles(program, context),
]
