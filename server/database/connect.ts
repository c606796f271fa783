import pg from 'pg'
import { QueryTypes, Sequelize, type Transaction } from 'sequelize'

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
}

export interface Database extends Queries {
  sequelize: Sequelize
  /** Runs work in one transaction: all of it or nothing. */
  inTransaction<T>(work: (tx: Queries) => Promise<T>): Promise<T>
  close(): Promise<void>
}

function queriesOf(sequelize: Sequelize, transaction: Transaction | undefined): Queries {
  const rows = <T extends object>(sql: string, bind: Bind = []): Promise<T[]> =>
    sequelize.query<T>(sql, { bind: [...bind], type: QueryTypes.SELECT, transaction: transaction ?? null })
  return {
    transaction,
    rows,
    row: async <T extends object>(sql: string, bind?: Bind) => (await rows<T>(sql, bind))[0],
  }
}

/** Opens a pool of connections; nothing is asked of the server until the first query. */
export function connect(databaseUrl: string, connections = 12): Database {
  const sequelize = new Sequelize(databaseUrl, {
    dialect: 'postgres',
    dialectModule: pg,
    logging: false,
    pool: { max: connections, acquire: 10_000, idle: 10_000 },
    define: { underscored: true, timestamps: false, freezeTableName: true },
  })
  return {
    ...queriesOf(sequelize, undefined),
    sequelize,
    inTransaction: (work) => sequelize.transaction((transaction) => work(queriesOf(sequelize, transaction))),
    close: () => sequelize.close(),
  }
}
