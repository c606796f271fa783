import pg from 'pg'

/** The database server that tests may make databases on. */
export function adminUrl(): string {
  const url = process.env.DATABASE_URL
  if (!url) throw new Error('DATABASE_URL is not set: run the tests with npm test')
  return url
}

export function urlOf(database: string): string {
  const url = new URL(adminUrl())
  url.pathname = `/${database}`
  return url.toString()
}

/** Runs a statement on the server itself, outside of any test's database. */
export async function onServer(sql: string): Promise<void> {
  const client = new pg.Client({ connectionString: adminUrl() })
  await client.connect()
  try {
    await client.query(sql)
  } finally {
    await client.end()
  }
}

/** The migrated database that each test file's own is copied from. */
export const template = 'nurtel_template'
