import { pino } from 'pino'
import { systemClock } from '../../server/clock.ts'
import { connect } from '../../server/database/connect.ts'
import { advanceDue } from '../../server/followups/advancing.ts'
import { defineModels } from '../../server/models.ts'
import type { Platform } from '../../server/platform.ts'
import { readSettings } from '../../server/settings.ts'

/** The part of a worker that moves people on, looking once a second as a worker does; mail stays in the queue. */
const settings = readSettings(process.env)
const database = connect(settings.databaseUrl, { connections: 2 })
defineModels(database)
const platform = {
  database,
  clock: systemClock,
  settings,
  log: pino({ level: 'silent' }),
} as unknown as Platform
for (;;) {
  await advanceDue(platform)
  await new Promise((next) => setTimeout(next, 1_000))
}
