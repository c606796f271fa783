import { constants, setPriority } from 'node:os'
import { signInOf } from '../demo/accounts.ts'
import { isTerminated, terminateConnections } from '../server/database/connect.ts'
import type { Settings } from '../server/settings.ts'
import type { openPlatform, Part } from './platform.ts'

/** What can be asked of `nurtel`. */
export type CommandName = 'migrate' | 'serve' | 'work' | 'standins' | 'demo'

type Opened = ReturnType<typeof openPlatform>

/** Each process loads what it runs, and nothing else: a worker no web server, a demo that cannot start no story. */
const load = {
  migrate: async () => (await import('../server/database/migrate.ts')).migrate,
  serve: async () => (await import('./serve.ts')).serve,
  work: async () => (await import('./work.ts')).work,
  standins: async () => (await import('./standins.ts')).standins,
  story: () => import('../demo/seed.ts'),
}

async function migrateDatabase({ database, settings }: Opened): Promise<void> {
  await (
    await load.migrate()
  )(database, settings.databaseUrl)
}

/** What each command starts. */
export const commands: Record<CommandName, (platform: Opened, fresh: boolean) => Promise<Part[]>> = {
  async migrate(platform) {
    await migrateDatabase(platform)
    return []
  },
  serve: async (platform) => [await (await load.serve())(platform)],
  async work(platform) {
    // People who wait for a page come before what is done behind it: a worker takes the time that is left. Only where
    // it has a process of its own: in the demo's, pages would wait too.
    setPriority(constants.priority.PRIORITY_LOW)
    return [await (await load.work())(platform)]
  },
  standins: async (platform) => [await (await load.standins())(platform)],
  async demo(platform, fresh) {
    const parts: Part[] = []
    try {
      // Ports first: when one is taken, nothing has been written yet.
      parts.push(await (await load.standins())(platform))
      await platform.database.sequelize.authenticate()
      const { seedDemo, startOver } = await load.story()
      if (fresh) await startOver(platform.database)
      await migrateDatabase(platform)
      await seedDemo(platform, platform.settings.demoPeople)
      parts.push(await (await load.serve())(platform))
      parts.push(await (await load.work())(platform))
    } catch (error) {
      await stopAll(parts)
      throw error
    }
    greet(platform.settings)
    return parts
  },
}

function greet(settings: Settings): void {
  const { address, password } = signInOf
  console.log(`
Nurtel is ready.
  Application   ${settings.publicUrl}/app/today
  Sign in       ${address} with the password ${password}
  Public page   ${settings.publicUrl}/p/template-pack
  Test inbox    ${settings.publicUrl}/app/outbox/inbox
  Another site  http://127.0.0.1:${settings.otherSitePort}/?form=templatepackform
Ctrl-C stops it; the data stays.`)
}

/** Later parts stand on earlier ones, so they stop first. */
export async function stopAll(parts: Part[]): Promise<void> {
  for (const part of parts.reverse()) await part.stop()
}

/** What runs may go on for so long after a signal; then the database is told to end it, which loses nothing. */
const gracePeriod = 2_500

const terminateEvery = 300

/** So long after a signal the process is gone, whatever runs. The start script has its own limit a little later. */
const longestEnd = 5_000

/** Ends everything that runs, within a few seconds. */
export async function end(parts: Part[], platform: Opened): Promise<void> {
  const stopWork = setTimeout(() => {
    // A connection that is ended while it is being opened has no owner yet who could hear of it.
    process.on('uncaughtException', (error) => {
      if (isTerminated(error)) return
      console.error(error)
      process.exit(1)
    })
    // What fails by it may begin something else: so again and again.
    setInterval(() => {
      terminateConnections(platform.settings.databaseUrl).catch(() => undefined)
    }, terminateEvery).unref()
  }, gracePeriod)
  setTimeout(() => process.exit(), longestEnd).unref()
  await stopAll(parts)
  await platform.close()
  clearTimeout(stopWork)
}
