import { randomBytes } from 'node:crypto'
import pg from 'pg'
import { DatabaseError, QueryTypes, Sequelize, type Transaction } from 'sequelize'

// Ids are bigint in the database and stay far below 2^53: numbers everywhere else. Arrays of them would still come
// as text: statements hand them out as JSON.
pg.types.setTypeParser(pg.types.builtins.INT8, Number)

/** Parameters of a statement; `$1` is the first. */
export type Bind = readonly unknown[]

/** Something that runs SQL: the database, or one transaction of it. */
export interface Queries {
  transaction: Transaction | undefined
  /** All rows that a statement returns. */
  rows<T extends object>(sql: string, bind?: Bind): Promise<T[]>
  /** The first row, if any. */
  row<T extends object>(sql: string, bind?: Bind): Promise<T | undefined>
  /** Inside a transaction: when the work fails, all that it wrote is undone and the transaction goes on. */
  attempt<T>(work: () => Promise<T>): Promise<T>
  /**
   * The same for statements that are asked a hundred times a second: each connection plans them once (PostgreSQL's
   * PREPARE), instead of at every asking. For texts that stay the same: none of them is forgotten.
   */
  prepared: Queries
}

export interface Database extends Queries {
  sequelize: Sequelize
  /** Runs work in one transaction: all of it or nothing. */
  inTransaction<T>(work: (tx: Queries) => Promise<T>): Promise<T>
  close(): Promise<void>
}

/** The names of prepared statements by their texts. */
const names = new Map<string, string>()

function nameOf(text: string): string {
  const name = names.get(text) ?? `statement ${names.size + 1}`
  names.set(text, name)
  return name
}

/** Works with the connection of a transaction, or with one of the pool. */
async function withConnection<T>(
  { connectionManager }: Sequelize,
  transaction: Transaction | undefined,
  work: (client: pg.Client) => Promise<T>,
): Promise<T> {
  // Sequelize keeps it there, but its types do not say so.
  const own = (transaction as { connection?: pg.Client } | undefined)?.connection
  if (own) return work(own)
  const connection = await connectionManager.getConnection({ type: 'read' })
  try {
    return await work(connection as pg.Client)
  } finally {
    connectionManager.releaseConnection(connection)
  }
}

/** Runs a statement that the connection plans once; it fails as any other does. */
async function runPrepared<T extends object>(client: pg.Client, text: string, bind: Bind): Promise<T[]> {
  try {
    return (await client.query<T>({ name: nameOf(text), text, values: [...bind] })).rows
  } catch (error) {
    throw new DatabaseError(Object.assign(error as Error, { sql: text }))
  }
}

function queriesOf(sequelize: Sequelize, transaction: Transaction | undefined): Queries {
  let attempts = 0
  const asking = (rows: Queries['rows']): Omit<Queries, 'prepared'> => ({
    transaction,
    rows,
    row: async <T extends object>(sql: string, bind?: Bind) => (await rows<T>(sql, bind))[0],
    async attempt(work) {
      const savepoint = `attempt_${(attempts += 1)}`
      await plain.rows(`savepoint ${savepoint}`)
      try {
        const result = await work()
        await plain.rows(`release savepoint ${savepoint}`)
        return result
      } catch (error) {
        // Where the connection itself is gone, the first error says more than this one.
        await plain.rows(`rollback to savepoint ${savepoint}`).catch(() => undefined)
        throw error
      }
    },
  })
  const plain = asking(<T extends object>(sql: string, bind: Bind = []) =>
    sequelize.query<T>(sql, { bind: [...bind], type: QueryTypes.SELECT, transaction: transaction ?? null }),
  )
  const prepared: Queries = {
    ...asking(<T extends object>(text: string, bind: Bind = []) =>
      withConnection(sequelize, transaction, (client) => runPrepared<T>(client, text, bind)),
    ),
    get prepared() {
      return prepared
    },
  }
  return { ...plain, prepared }
}

/** How a pool of connections behaves. */
export interface PoolOptions {
  connections?: number
  /** The longest that a statement may take, in milliseconds; without it, as long as it takes. */
  statementTimeout?: number
}

/** The name under which this process' connections are known to the server, so that it can end them all. */
const applicationName = `nurtel ${process.pid} ${randomBytes(4).toString('hex')}`

/** The same database, under this process' name: for connections that are no pool's. */
export function namedConnection(databaseUrl: string): string {
  const url = new URL(databaseUrl)
  url.searchParams.set('application_name', applicationName)
  return url.toString()
}

/** Opens a pool of connections; nothing is asked of the server until the first query. */
export function connect(
  databaseUrl: string,
  { connections = 12, statementTimeout }: PoolOptions = {},
): Database {
  const sequelize = new Sequelize(databaseUrl, {
    dialect: 'postgres',
    dialectModule: pg,
    logging: false,
    pool: { max: connections, acquire: 10_000, idle: 10_000 },
    dialectOptions: {
      application_name: applicationName,
      ...(statementTimeout !== undefined && { statement_timeout: statementTimeout }),
    },
    define: { underscored: true, timestamps: false, freezeTableName: true },
  })
  return {
    ...queriesOf(sequelize, undefined),
    sequelize,
    inTransaction: (work) => sequelize.transaction((transaction) => work(queriesOf(sequelize, transaction))),
    close: () => sequelize.close(),
  }
}

/** Is it the news that a connection was ended from outside? SQLSTATE 57P01: admin_shutdown. */
export const isTerminated = (error: unknown): boolean =>
  error instanceof Error &&
  ((error as { code?: string }).code === '57P01' || error.message.startsWith('Connection terminated'))

/** Ends the connections of this process with all that they are doing, for a process that has to end now. */
export async function terminateConnections(databaseUrl: string): Promise<void> {
  const client = new pg.Client({ connectionString: databaseUrl, connectionTimeoutMillis: 1_000 })
  client.on('error', () => undefined)
  await client.connect()
  await client.query('select pg_terminate_backend(pid) from pg_stat_activity where application_name = $1', [
    applicationName,
  ])
  await client.end()
}
