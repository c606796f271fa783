import express from 'express'
import { z } from 'zod'
import { connect } from '../../server/database/connect.ts'
import { limitRate } from '../../server/http/rateLimits.ts'
import { securityHeaders } from '../../server/http/securityHeaders.ts'
import { readSettings } from '../../server/settings.ts'

/**
 * The yardstick: the same Express, with the headers and the limit that every form of ours has, and the same way to the
 * database; one validated INSERT, and nothing else.
 */
const shape = z.object({
  firstname: z.string().max(80),
  address: z.email().max(254),
  consent: z.literal('yes'),
  token: z.string().max(500),
})
const [, , port] = process.argv
const database = connect(process.env.DATABASE_URL ?? '')
await database.rows(
  `create table if not exists bench_form (id bigint generated always as identity primary key, first_name text not null,
     address text not null unique, token text not null, at timestamptz not null)`,
)
const settings = readSettings(process.env)
const server = express()
server.use(securityHeaders({ settings }))
server.post(
  '/',
  limitRate(settings.publicRate),
  express.urlencoded({ extended: false, limit: '20kb' }),
  async (request, response) => {
    const { firstname, address, token } = shape.parse(request.body)
    await database.rows(
      'insert into bench_form (first_name, address, token, at) values ($1, $2, $3, now())',
      [firstname, address, token],
    )
    response.redirect(303, '/')
  },
)
server.listen(Number(port), '127.0.0.1', () => console.log('ready'))
