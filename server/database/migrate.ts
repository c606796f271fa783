import { readFile } from 'node:fs/promises'
import { fileURLToPath } from 'node:url'
import { runMigrations } from 'graphile-worker'
import { SequelizeStorage, Umzug } from 'umzug'
import type { Instant } from '../../core/audience/people/activity.ts'
import type { Database, Queries } from './connect.ts'

const folder = fileURLToPath(new URL('./migrations/', import.meta.url))

/**
 * Brings the schema up to date: ours, then the job queue's. Forward only.
 * @param upTo the last of our migrations to be made: how an older release left a database
 */
export async function migrate(database: Database, databaseUrl: string, upTo?: string): Promise<void> {
  const umzug = new Umzug({
    migrations: {
      glob: ['*.sql', { cwd: folder }],
      resolve: ({ name, path }) => ({
        name,
        up: async () => {
          const sql = await readFile(path ?? `${folder}${name}`, 'utf8')
          await database.sequelize.transaction((transaction) =>
            database.sequelize.query(sql, { transaction }),
          )
        },
      }),
    },
    storage: new SequelizeStorage({ sequelize: database.sequelize, tableName: 'migration' }),
    logger: undefined,
  })
  await umzug.up(upTo === undefined ? {} : { to: upTo })
  await runMigrations({ connectionString: databaseUrl })
}

/** Makes the activity partitions from some months back to some months ahead of now. */
export async function ensureActivityMonths(q: Queries, now: Instant, back = 1, ahead = 14): Promise<void> {
  await q.rows(
    `select ensure_activity_month(month::date)
     from generate_series($1::timestamptz - make_interval(months => $2),
                          $1::timestamptz + make_interval(months => $3), '1 month') month`,
    [new Date(now), back, ahead],
  )
}
