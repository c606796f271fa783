import { createSocket, type Socket } from 'node:dgram'
import { AUTHORITATIVE_ANSWER, decode, encode, type Answer } from 'dns-packet'

/** Not found (RFC 1035 §4.1.1). */
const nameError = 3

/** What the world's name servers say in the story: one domain leads here, one leads elsewhere, others nowhere. */
const records: readonly Answer[] = [
  { name: 'pages.quillfeather.example', type: 'A', ttl: 300, data: '127.0.0.1' },
  { name: 'old.quillfeather.example', type: 'CNAME', ttl: 300, data: 'shop.elsewhere.example' },
]

/** Answers questions about names (RFC 1035), on loopback only. @throws the error of the system */
export async function startNameServer(port: number): Promise<Socket> {
  const socket = createSocket('udp4')
  await new Promise<void>((resolve, reject) => {
    socket.once('error', reject)
    socket.bind(port, '127.0.0.1', resolve)
  })
  socket.on('message', (message, { port: from, address }) => {
    let question
    try {
      question = decode(message)
    } catch {
      // What is no question gets no answer.
      return
    }
    const [asked] = question.questions ?? []
    const ofName = records.filter(({ name }) => name === asked?.name.toLowerCase())
    const reply = encode({
      type: 'response',
      ...(question.id !== undefined && { id: question.id }),
      flags: AUTHORITATIVE_ANSWER | (ofName.length > 0 ? 0 : nameError),
      questions: question.questions ?? [],
      answers: ofName.filter(({ type }) => type === asked?.type),
    })
    socket.send(reply, from, address)
  })
  return socket
}
