import express from 'express'
import { connect } from '../../server/database/connect.ts'

/** The yardstick of junctions: Express that looks up the tags of one person by an index, and redirects. */
const database = connect(process.env.DATABASE_URL ?? '')
const app = express()
app.get('/:contact', async (request, response) => {
  const tags = await database.rows<{ tag: number }>(
    'select tag_id tag from contact_tag where contact_id = $1',
    [Number(request.params.contact)],
  )
  response.redirect(302, tags.length === 0 ? '/p/one' : '/p/two')
})
app.listen(Number(process.argv[2]), '127.0.0.1')
