import { parseArgs } from 'node:util'
import { readSettings } from '../server/settings.ts'
import type { CommandName } from './commands.ts'
import type { Part } from './platform.ts'

const usage: Record<CommandName, string> = {
  migrate: "bring the database's schema up to date",
  serve: 'answer requests: public pages, API, application',
  work: 'carry out jobs and move people on',
  standins: 'play the outside world: mail server with test inbox, name server',
  demo: "all of it in one process, with the demo's story (--fresh=yes starts over)",
}
const isCommand = (name: string): name is CommandName => Object.hasOwn(usage, name)

const usageWords = Object.entries(usage)
  .map(([name, words]) => `  ${name.padEnd(11)}${words}`)
  .join('\n')

/** What went wrong, in one sentence that says what to do. */
function explain(error: unknown): string {
  const { code, port, message } = error as { code?: string; port?: number; message?: string }
  if (code === 'EADDRINUSE')
    return `Port ${port} is taken: stop what uses it, or set NURTEL_PORT, NURTEL_SMTP_PORT, NURTEL_STANDINS_PORT, NURTEL_OTHER_SITE_PORT or NURTEL_GATEWAY_PORT to a free one.`
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
  const name = positionals[0] ?? ''
  if (!isCommand(name)) throw new Error(`Unknown command.\nnurtel COMMAND\n${usageWords}`)
  const settings = readSettings(process.env)
  // Loaded when the environment is known to be usable: what is wrong with it is said at once.
  const [{ openPlatform }, { commands, end, stopAll }] = await Promise.all([
    import('./platform.ts'),
    import('./commands.ts'),
  ])
  const platform = openPlatform(settings)
  let parts: Part[] = []
  const signalled: { ending: Promise<void> | null } = { ending: null }
  const onSignal = (): void => {
    signalled.ending ??= end(parts, platform).catch(() => process.exit())
  }
  process.on('SIGINT', onSignal)
  process.on('SIGTERM', onSignal)
  try {
    parts = await commands[name](platform, values.fresh === 'yes')
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
