import { connect } from '../server/database/connect.ts'
import { ensureActivityMonths, migrate } from '../server/database/migrate.ts'
import { defineModels } from '../server/models.ts'
import { onServer, template, urlOf } from './databases.ts'
import { fill, testStart } from './filled.ts'

/** Before all tests: migrates one database, from empty, and fills it; each file's own is a copy of it. */
export async function setup(): Promise<void> {
  await onServer(`drop database if exists ${template}`)
  await onServer(`create database ${template}`)
  const database = connect(urlOf(template), { connections: 2 })
  await migrate(database, urlOf(template))
  await ensureActivityMonths(database, testStart, 1, 3)
  defineModels(database)
  await fill(database)
  await database.close()
}
