// The yardstick: nodemailer's pool, composing one fixed message again and again.
// Arguments: the port of the mail server, how many messages, the file with the message's HTML, connections.
import { readFile } from 'node:fs/promises'
import { createTransport } from 'nodemailer'

const [, , port, count, file = '', connections] = process.argv
const html = await readFile(file, 'utf8')
const text = html
  .replace(/<[^>]*>/g, ' ')
  .replace(/\s+/g, ' ')
  .slice(0, 2_000)
const pool = createTransport({
  pool: true,
  maxConnections: Number(connections),
  maxMessages: Infinity,
  host: '127.0.0.1',
  port: Number(port),
  ignoreTLS: true,
})
let left = Number(count)
await Promise.all(
  Array.from({ length: Number(connections) * 2 }, async () => {
    while ((left -= 1) >= 0)
      await pool.sendMail({
        from: 'Quillfeather Bindery <hello@quillfeather.example>',
        to: 'Orla <orla@postbox.test>',
        subject: 'The letter of twenty kilobytes',
        html,
        text,
      })
  }),
)
pool.close()
