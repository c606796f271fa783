import { DatabaseError } from 'sequelize'
import { describe, expect, it } from 'vitest'
import { isPassing, problemOf } from '../http/problems.ts'
import { eventually } from '../../testing/waiting.ts'
import { useInstall } from '../../testing/useInstall.ts'

const on = useInstall({ worker: false })

const failure = (asked: Promise<unknown>): Promise<unknown> =>
  asked.then(
    () => null,
    (error: unknown) => error,
  )

describe('a prepared statement', () => {
  it('is planned once a connection, and answers as any other does', async () => {
    await on.q.inTransaction(async (tx) => {
      const sum = 'select $1::int + $2::int sum'
      expect(await tx.prepared.row(sum, [1, 2])).toEqual({ sum: 3 })
      expect(await tx.prepared.prepared.row(sum, [3, 4])).toEqual({ sum: 7 })
      expect(
        await tx.rows('select statement from pg_prepared_statements where statement = $1', [sum]),
      ).toEqual([{ statement: sum }])
    })
  })

  it('belongs to its transaction: what it wrote is undone with it', async () => {
    const address = 'undone@postbox.test'
    const insert = `insert into contact (address, address_key, created_at, updated_at) values ($1, $1, now(), now())`
    await failure(
      on.q.inTransaction(async ({ prepared }) => {
        await prepared.rows(insert, [address])
        await failure(prepared.attempt(() => prepared.rows(insert, [address])))
        expect(await prepared.rows('select from contact where address = $1', [address])).toHaveLength(1)
        throw new Error('thought better of it')
      }),
    )
    expect(await on.q.rows('select from contact where address = $1', [address])).toEqual([])
  })

  it('fails as any other does: by its SQLSTATE one knows whether it is worth trying again', async () => {
    const divided = await failure(on.q.prepared.rows('select 1 / $1::int', [0]))
    expect(divided).toBeInstanceOf(DatabaseError)
    expect([isPassing(divided), problemOf(divided).status]).toEqual([false, 500])
    // The connection goes in the middle, and as soon as that is noticed others are used.
    const cut = await failure(on.q.prepared.rows('select pg_terminate_backend(pg_backend_pid())'))
    expect([isPassing(cut), problemOf(cut).status]).toEqual([true, 503])
    expect(await eventually(() => on.q.prepared.row('select 1 as one').catch(() => null))).toEqual({ one: 1 })
  })
})
