import type { Bench } from './report.ts'

/** Each is loaded when it runs: what one of them needs (a browser, say) must not weigh on what another measures. */
const benches: Record<string, () => Promise<Bench>> = {
  followups: async () => (await import('./followups.ts')).followups,
  forms: async () => (await import('./forms.ts')).forms,
  funnels: async () => (await import('./funnels.ts')).funnels,
  junctions: async () => (await import('./junctions.ts')).junctions,
  newcomer: async () => (await import('./newcomer.ts')).newcomer,
  people: async () => (await import('./people.ts')).people,
  quizzes: async () => (await import('./quizzes.ts')).quizzes,
  screens: async () => (await import('./screens.ts')).screens,
  selling: async () => (await import('./selling.ts')).selling,
  sending: async () => (await import('./sending.ts')).sending,
  slice: async () => (await import('./slice.ts')).slice,
  start: async () => (await import('./start.ts')).start,
  visitor: async () => (await import('./visitor.ts')).visitor,
}

const [, , name = '', ...args] = process.argv
const load = benches[name]
if (!load) {
  console.error(`npm run bench -- NAME, where NAME is one of: ${Object.keys(benches).join(', ')}`)
  process.exitCode = 1
} else {
  const bench = await load()
  await bench(args)
}
