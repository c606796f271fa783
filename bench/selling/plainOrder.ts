import express from 'express'
import { connect } from '../../server/database/connect.ts'
import { limitRate } from '../../server/http/rateLimits.ts'
import { securityHeaders } from '../../server/http/securityHeaders.ts'
import { readSettings } from '../../server/settings.ts'

/**
 * The yardstick: the same Express, with our headers and limit and the same way to the database; one transaction that
 * writes an order and its line, and nothing else.
 */
const [, , port] = process.argv
const settings = readSettings(process.env)
const database = connect(settings.databaseUrl)
await database.rows(
  `create table if not exists bench_order (id bigint generated always as identity primary key, total bigint not null)`,
)
await database.rows(
  `create table if not exists bench_line (order_id bigint not null references bench_order, title text not null, total bigint not null)`,
)
const server = express()
server.use(securityHeaders({ settings }))
server.post(
  '/',
  limitRate(settings.publicRate),
  express.urlencoded({ extended: false, limit: '20kb' }),
  async (_request, response) => {
    await database.inTransaction(async (tx) => {
      const row = await tx.row<{ id: number }>('insert into bench_order (total) values (700) returning id')
      await tx.rows('insert into bench_line (order_id, title, total) values ($1, $2, 700)', [
        row?.id,
        'A thing',
      ])
    })
    response.redirect(303, '/')
  },
)
server.listen(Number(port), '127.0.0.1')
