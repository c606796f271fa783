import { z } from 'zod'
import { runBulkAction } from '../audience/people/bulkActions.ts'
import { runImportCheck, runImport, runImportUndo } from '../audience/imports/imports.ts'
import { rescoreEverybody } from '../audience/scores/rescoring.ts'
import { runBroadcast } from '../email/broadcasts/preparing.ts'
import type { Progress, WorkKind } from './longWork.ts'
import type { Platform } from '../platform.ts'

const importPayload = z.object({ import: z.number().int() })
const rescorePayload = z.object({ scorecard: z.number().int() })

/** What each kind of long work does; each tells what came of it in a sentence. */
export function workKinds(
  platform: Platform,
): Record<WorkKind, (payload: unknown, progress: Progress) => Promise<string>> {
  return {
    importCheck: (payload, progress) =>
      runImportCheck(platform, importPayload.parse(payload).import, progress),
    import: (payload, progress) => runImport(platform, importPayload.parse(payload).import, progress),
    importUndo: (payload, progress) => runImportUndo(platform, importPayload.parse(payload).import, progress),
    bulk: (payload, progress) => runBulkAction(platform, payload, progress),
    broadcast: (payload, progress) => runBroadcast(platform, payload, progress),
    async rescore(payload, progress) {
      const people = await rescoreEverybody(platform, rescorePayload.parse(payload).scorecard, progress)
      return `Scores are up to date: ${people} people have points.`
    },
  }
}
