import type { Progress } from '../server/work/longWork.ts'

/** Long work that nobody watches. */
export const unwatched: Progress = { report: () => Promise.resolve() }
