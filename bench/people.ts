import { execFileSync } from 'node:child_process'
import { parseArgs } from 'node:util'
import { openInstall, type TestInstall } from '../testing/install.ts'
import { measureImports } from './people/imports.ts'
import { measureLists } from './people/lists.ts'
import { measureRescoring } from './people/rescoring.ts'
import { fillWithHistory } from './people/history.ts'
import { report, type Found } from './report.ts'

/** The audience at size: imports, a segment, the list, and everybody's score, each beside its yardstick. */
export async function people(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: { people: { type: 'string', default: '1000000' }, part: { type: 'string', default: 'all' } },
  })
  const count = Number(values.people)
  if (!Number.isInteger(count) || count < 1000)
    throw new Error('--people takes a whole number of at least 1000')
  if (!['all', 'imports', 'lists'].includes(values.part)) throw new Error('--part takes imports or lists')
  execFileSync(process.execPath, [...process.execArgv, 'bench/people/makeTemplate.ts'], { stdio: 'inherit' })
  const found: Found[] = []
  if (values.part !== 'lists') found.push(await withInstall((install) => measureImports(install, count)))
  if (values.part !== 'imports')
    found.push(
      await withInstall(async (install) => {
        await fillWithHistory(install, count)
        const lists = await measureLists(install)
        const rescoring = await measureRescoring(install)
        return {
          lines: [...lists.lines, ...rescoring.lines],
          figures: { ...lists.figures, ...rescoring.figures },
        }
      }),
    )
  report(
    'people',
    [{ what: 'people', ours: count.toLocaleString('en') }, ...found.flatMap(({ lines }) => lines)],
    Object.assign({ people: count }, ...found.map(({ figures }) => figures)) as Record<string, number>,
  )
}

async function withInstall<T>(work: (install: TestInstall) => Promise<T>): Promise<T> {
  const install = await openInstall()
  try {
    return await work(install)
  } finally {
    await install.close()
  }
}
