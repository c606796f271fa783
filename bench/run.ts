import { people } from './people.ts'
import { screens } from './screens.ts'
import { slice } from './slice.ts'
import { start } from './start.ts'

const benches: Record<string, (args: string[]) => Promise<void>> = { people, screens, slice, start }

const [, , name = '', ...args] = process.argv
const bench = benches[name]
if (!bench) {
  console.error(`npm run bench -- NAME, where NAME is one of: ${Object.keys(benches).join(', ')}`)
  process.exitCode = 1
} else {
  await bench(args)
}
