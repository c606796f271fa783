import { z } from 'zod'
import { carryOutBulk } from './audience/bulk.ts'
import { carryOutCheck, carryOutImport, carryOutUndo } from './audience/imports.ts'
import { rescoreEverybody } from './audience/rescoring.ts'
import { carryOutBroadcast } from './email/broadcasts.ts'
import type { Progress, WorkKind } from './longWork.ts'
import type { Platform } from './platform.ts'

const importWish = z.object({ import: z.number().int() })
const rescoreWish = z.object({ scorecard: z.number().int() })

/** What each kind of long work does; each tells what came of it in a sentence. */
export function workKinds(
  platform: Platform,
): Record<WorkKind, (wish: unknown, progress: Progress) => Promise<string>> {
  return {
    importCheck: (wish, progress) => carryOutCheck(platform, importWish.parse(wish).import, progress),
    import: (wish, progress) => carryOutImport(platform, importWish.parse(wish).import, progress),
    importUndo: (wish, progress) => carryOutUndo(platform, importWish.parse(wish).import, progress),
    bulk: (wish, progress) => carryOutBulk(platform, wish, progress),
    broadcast: (wish, progress) => carryOutBroadcast(platform, wish, progress),
    async rescore(wish, progress) {
      const people = await rescoreEverybody(platform, rescoreWish.parse(wish).scorecard, progress)
      return `Everybody’s score stands by the new rules; ${people} people have points.`
    },
  }
}
