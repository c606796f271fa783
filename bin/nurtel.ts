import { parseArgs } from 'node:util'
import { signInOf } from '../demo/accounts.ts'
import { seedDemo, startOver } from '../demo/seed.ts'
import { isTerminated, terminateConnections } from '../server/database/connect.ts'
import { migrate } from '../server/database/migrate.ts'
import { readSettings, type Settings } from '../server/settings.ts'
import { openPlatform, serve, standins, work, type Part } from './start.ts'
import { isBuilt } from './web.ts'

const usage = `nurtel COMMAND
  migrate    bring the database's schema up to date
  serve      answer requests: public pages, API, application
  work       carry out jobs and move people on
  standins   play the outside world: mail server with test inbox
  demo       all of it in one process, with the demo's story (--fresh=yes starts over)`

type Opened = ReturnType<typeof openPlatform>

const commands: Record<string, (platform: Opened, fresh: boolean) => Promise<Part[]>> = {
  async migrate(platform) {
    await migrate(platform.database, platform.settings.databaseUrl)
    return []
  },
  serve: async (platform) => [await serve(platform)],
  work: async (platform) => [await work(platform)],
  standins: async (platform) => [await standins(platform)],
  async demo(platform, fresh) {
    if (!isBuilt()) throw new Error('The application is not built: run npm run build.')
    const parts: Part[] = []
    try {
      // Ports first: when one is taken, nothing has been written yet.
      parts.push(await standins(platform))
      if (fresh) await startOver(platform.database)
      await migrate(platform.database, platform.settings.databaseUrl)
      await seedDemo(platform, platform.settings.demoPeople)
      parts.push(await serve(platform))
      parts.push(await work(platform))
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
Ctrl-C stops it; the data stays.`)
}

/** Later parts stand on earlier ones, so they stop first. */
async function stopAll(parts: Part[]): Promise<void> {
  for (const part of parts.reverse()) await part.stop()
}

/** What runs may go on for so long after a signal; then the database is told to end it, which loses nothing. */
const gracePeriod = 2_500

const terminateEvery = 300

/** So long after a signal the process is gone, whatever runs. The start script has its own limit a little later. */
const longestEnd = 5_000

/** Ends everything that runs, within a few seconds. */
async function end(parts: Part[], platform: Opened): Promise<void> {
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

/** What went wrong, in one sentence that says what to do. */
function explain(error: unknown): string {
  const { code, port, message } = error as { code?: string; port?: number; message?: string }
  if (code === 'EADDRINUSE')
    return `Port ${port} is taken: stop what uses it, or set NURTEL_PORT, NURTEL_SMTP_PORT or NURTEL_STANDINS_PORT to a free one.`
  if (code === 'EACCES') return `Port ${port} may not be used by you: set NURTEL_PORT to one above 1023.`
  const name = (error as { name?: string }).name ?? ''
  if (
    name.startsWith('SequelizeConnection') ||
    name.startsWith('SequelizeHost') ||
    name === 'SequelizeAccessDeniedError'
  )
    return `The database is not responding (${message}): check DATABASE_URL and that PostgreSQL runs.`
  return message ?? String(error)
}

async function main(): Promise<void> {
  const { positionals, values } = parseArgs({
    allowPositionals: true,
    options: { fresh: { type: 'string', default: 'no' } },
  })
  const command = commands[positionals[0] ?? '']
  if (!command) throw new Error(`Unknown command.\n${usage}`)

  const platform = openPlatform(readSettings(process.env))
  let parts: Part[] = []
  const signalled: { ending: Promise<void> | null } = { ending: null }
  const onSignal = (): void => {
    signalled.ending ??= end(parts, platform).catch(() => process.exit())
  }
  process.on('SIGINT', onSignal)
  process.on('SIGTERM', onSignal)
  try {
    parts = await command(platform, values.fresh === 'yes')
  } catch (error) {
    // What was starting when the signal came could not go on; that was the wish.
    if (signalled.ending) return
    await platform.close()
    throw error
  }
  // A signal that came while the parts were starting had nothing to stop yet.
  if (signalled.ending) await stopAll(parts)
  else if (parts.length === 0) await platform.close()
}

main().catch((error: unknown) => {
  console.error(`nurtel: ${explain(error)}`)
  process.exitCode = 1
})
