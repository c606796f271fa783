import { Agent, request } from 'node:http'

/** What a load found: how many answers there were, and how long each took (ms). */
export interface Load {
  answers: number
  failed: number
  perSecond: number
  latencies: number[]
}

const headers = {
  'user-agent': 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140 Safari/537.36',
}

/** What each request posts; without it they only ask. */
export type Posting = () => string

function ask(url: string, agent: Agent, post?: Posting): Promise<boolean> {
  return new Promise((done) => {
    const posted = post && {
      method: 'POST',
      headers: { ...headers, 'content-type': 'application/x-www-form-urlencoded' },
    }
    const asked = request(url, { agent, headers, ...posted }, (answer) => {
      answer.resume()
      answer.on('end', () => done((answer.statusCode ?? 500) < 400))
    })
    asked.on('error', () => done(false))
    asked.end(post?.())
  })
}

/** Asks on so many kept connections, each again as soon as it is answered. */
export async function askAtOnce(
  url: string,
  connections: number,
  seconds: number,
  post?: Posting,
): Promise<Load> {
  const agent = new Agent({ keepAlive: true, maxSockets: connections })
  const end = performance.now() + seconds * 1_000
  let [answers, failed] = [0, 0]
  const begun = performance.now()
  const one = async (): Promise<void> => {
    while (performance.now() < end)
      if (await ask(url, agent, post)) answers += 1
      else failed += 1
  }
  await Promise.all(Array.from({ length: connections }, one))
  agent.destroy()
  return { answers, failed, perSecond: (answers / (performance.now() - begun)) * 1_000, latencies: [] }
}

/** Where each request goes: always there, or to an address of its own. */
export type Address = string | (() => string)

/** Asks so often a second, whether or not the answers before are there: what waits in a queue is measured too. */
export async function askAtRate(
  url: Address,
  perSecond: number,
  seconds: number,
  post?: Posting,
): Promise<Load> {
  const agent = new Agent({ keepAlive: true, maxSockets: 256 })
  const latencies: number[] = []
  let failed = 0
  const begun = performance.now()
  const waiting: Promise<void>[] = []
  const total = Math.round(perSecond * seconds)
  for (let i = 0; i < total;) {
    const due = Math.min(total, Math.floor(((performance.now() - begun) / 1_000) * perSecond))
    for (; i < due; i += 1) {
      // The first is due after the first span, as `due` counts them.
      const at = begun + ((i + 1) / perSecond) * 1_000
      waiting.push(
        ask(typeof url === 'string' ? url : url(), agent, post).then((through) => {
          latencies.push(performance.now() - at)
          if (!through) failed += 1
        }),
      )
    }
    await new Promise((next) => setTimeout(next, 2))
  }
  await Promise.all(waiting)
  agent.destroy()
  return { answers: total - failed, failed, perSecond, latencies }
}
