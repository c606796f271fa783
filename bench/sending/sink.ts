// A mail server that takes everything at once and keeps nothing but what it was: the yardstick and the product meet the
// same. Arguments: the port of the mail server, and one that tells what came.
import { createServer as createHttp } from 'node:http'
import { createServer } from 'node:net'

/** What came since it was last asked to begin anew. */
export interface Sunk {
  messages: number
  bytes: number
  /** Between the first and the last (ms). */
  took: number
  distinct: number
  /** Of those that came more than once, how many had come as the last of a connection that broke. */
  doubled: number
  doubledOnTheWire: number
}

const [, , smtpPort, httpPort] = process.argv
const copies = new Map<string, number>()
const onTheWire = new Set<string>()
let [messages, bytes, first, last] = [0, 0, 0, 0]

function begin(): void {
  copies.clear()
  onTheWire.clear()
  messages = bytes = first = last = 0
}

/** What the benchmark sends: whatever else is sent meanwhile is taken and not counted. */
const counted = /^Subject: The letter/m

function take(message: string): string | null {
  if (!counted.test(message)) return null
  const now = performance.now()
  if (messages === 0) first = now
  last = now
  messages += 1
  bytes += message.length
  // A copy: a piece of a string keeps the whole of it.
  const id = Buffer.from(/^Message-ID: (\S+)/im.exec(message)?.[1] ?? '').toString()
  copies.set(id, (copies.get(id) ?? 0) + 1)
  return id
}

createServer((socket) => {
  socket.setNoDelay(true)
  let kept = ''
  let inMessage = false
  let newest: string | null = null
  const answer = (line: string): void => {
    const verb = line.slice(0, 4).toUpperCase()
    newest = null
    if (verb === 'EHLO') socket.write('250-sink\r\n250-8BITMIME\r\n250 SMTPUTF8\r\n')
    else if (verb === 'DATA') {
      inMessage = true
      socket.write('354 go on\r\n')
    } else if (verb === 'QUIT') socket.end('221 bye\r\n')
    else socket.write('250 ok\r\n')
  }
  socket.write('220 sink ESMTP\r\n')
  socket.on('data', (piece) => {
    kept += piece.toString('latin1')
    for (;;) {
      const end = kept.indexOf(inMessage ? '\r\n.\r\n' : '\r\n')
      if (end < 0) return
      const whole = kept.slice(0, end)
      kept = kept.slice(end + (inMessage ? 5 : 2))
      if (inMessage) {
        inMessage = false
        newest = take(whole)
        socket.write('250 taken\r\n')
      } else answer(whole)
    }
  })
  // The last message of a connection that nothing more was said on: its sender cannot have known that it was taken.
  socket.on('close', () => newest !== null && onTheWire.add(newest))
  socket.on('error', () => undefined)
}).listen(Number(smtpPort), '127.0.0.1')

createHttp((request, answer) => {
  if (request.method === 'POST') begin()
  const twice = [...copies].filter(([, count]) => count > 1).map(([id]) => id)
  const found: Sunk = {
    messages,
    bytes,
    took: last - first,
    distinct: copies.size,
    doubled: twice.length,
    doubledOnTheWire: twice.filter((id) => onTheWire.has(id)).length,
  }
  answer.end(JSON.stringify(found))
}).listen(Number(httpPort), '127.0.0.1')
