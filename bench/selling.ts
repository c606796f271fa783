import { constants, setPriority } from 'node:os'
import { parseArgs } from 'node:util'
import { z } from 'zod'
import { deadline as deadlineShape } from '../core/commerce/deadline.ts'
import { readCart } from '../server/commerce/carts.ts'
import { createDeadline } from '../server/commerce/deadlines.ts'
import { gatewaySecrets } from '../server/commerce/gateway.ts'
import { noteLeftCarts } from '../server/commerce/leftCarts.ts'
import { placeOrder } from '../server/commerce/placing.ts'
import { openFormTokens } from '../server/capture/formTokens.ts'
import { systemClock } from '../server/clock.ts'
import { readerMark } from '../server/pages/readers.ts'
import { loadSite } from '../server/pages/site.ts'
import { freePort } from '../testing/freePort.ts'
import { openInstall, type TestInstall } from '../testing/install.ts'
import { typeCard } from '../testing/shop.ts'
import { setup } from '../testing/template.ts'
import { eventually } from '../testing/waiting.ts'
import { measurable, start, startWeb, type Measurable } from './forms/processes.ts'
import { quantile, report, round, type Found } from './report.ts'
import { fillCarts, payBody, sell, type Sold } from './selling/shop.ts'
import { askAtRate, type Load } from './visitor/load.ts'

const places = 40
const rush = 200
const perSecond = 100
const seconds = 15
const warmUp = 8
/** A worker is killed so often (ms). */
const killEvery = 20_000
const openCarts = 1_000_000

const session = 'bench-card'

/** What other processes of the install are started with. */
function envOf({ platform: { settings } }: TestInstall, port: number): Record<string, string> {
  return {
    DATABASE_URL: settings.databaseUrl,
    NURTEL_SECRET: settings.secret,
    NURTEL_PORT: String(port),
    NURTEL_SMTP_PORT: String(settings.smtpPort),
    NURTEL_STANDINS_PORT: String(settings.standinsPort),
    NURTEL_GATEWAY_PORT: String(settings.gatewayPort),
    NURTEL_OTHER_SITE_PORT: String(settings.otherSitePort),
    NURTEL_URL: settings.publicUrl,
    NURTEL_PUBLIC_RATE: '10000000',
    NURTEL_LOG: 'silent',
  }
}
const gatewayOf = ({ platform }: TestInstall): string => `http://127.0.0.1:${platform.settings.gatewayPort}`
const startWork = (env: Record<string, string>): Measurable =>
  measurable(start('bin/nurtel.ts', ['work'], env))

const countOf = async ({ platform }: TestInstall, which: string): Promise<number> =>
  (await platform.database.row<{ count: number }>(`select count(*) count from customer_order where ${which}`))
    ?.count ?? 0

/** Presses the button of each of these carts. */
function pressing(install: TestInstall, { page, product }: Sold, carts: readonly string[]) {
  const tokens = openFormTokens({ signer: install.platform.signer, clock: systemClock })
  const block = install.platform.database
    .row<{ block: string }>(
      `select jsonb_path_query(content, '$.document.** ? (@.kind == "orderForm").id')->>0 block from page_version where page_id = $1`,
      [page],
    )
    .then((row) => row?.block ?? '')
  let next = 0
  return {
    address: (url: string, path: string) => () =>
      `${url}/p/${path}?cart=${carts[next++ % carts.length] ?? ''}`,
    body: async () => {
      const id = await block
      return () => payBody(id, product, tokens.make(`page ${page}`))
    },
  }
}

/** Many at once for the last places. */
async function measureRush(install: TestInstall, url: string): Promise<Found> {
  const few = await sell(install, 'few', places)
  const carts = await fillCarts(install, few, rush, () => session)
  const { address, body } = pressing(install, few, carts)
  const addresses = carts.map(() => address(url, few.path)())
  const post = await body()
  const statuses = await Promise.all(
    addresses.map(async (to) => {
      const answer = await fetch(to, {
        method: 'POST',
        redirect: 'manual',
        headers: { 'content-type': 'application/x-www-form-urlencoded' },
        body: post(),
      })
      await answer.body?.cancel()
      return answer.status
    }),
  )
  const placed = statuses.filter((status) => status === 303).length
  await eventually(async () => (await countOf(install, `state = 'open'`)) === 0, 60_000)
  const sold = await countOf(install, `state = 'paid'`)
  return {
    figures: { sold_of_40: sold },
    lines: [
      {
        what: `${rush} at once for the last ${places} places: paid orders`,
        ours: String(sold),
        yardstick: `${placed} let through, ${statuses.filter((status) => status === 409).length} told that it is sold out`,
      },
    ],
  }
}

/** Orders at a steady rate: from the button to the way on; the gateway's time comes after it. */
async function measureSubmit(install: TestInstall, url: string, env: Record<string, string>): Promise<Found> {
  const many = await sell(install, 'many')
  const carts = await fillCarts(install, many, perSecond * (seconds + warmUp) + 100, () => session)
  const { address, body } = pressing(install, many, carts)
  const port = await freePort()
  const plain = measurable(start('bench/selling/plainOrder.ts', [String(port)], env))
  const plainUrl = `http://127.0.0.1:${port}/`
  await eventually(async () => (await fetch(plainUrl).catch(() => null)) !== null, 30_000)
  const steadily = async (to: string | (() => string), post: () => string): Promise<Load> => {
    await askAtRate(to, perSecond, warmUp, post)
    return askAtRate(to, perSecond, seconds, post)
  }
  try {
    const theirs = await steadily(plainUrl, () => 'do=pay')
    const ours = await steadily(address(url, many.path), await body())
    if (ours.failed > 0) throw new Error(`${ours.failed} orders were not taken`)
    const figures = { checkout_p95_ms: round(quantile(ours.latencies, 0.95)) }
    return {
      figures,
      lines: [
        {
          what: `an order placed, ${perSecond} a second: 95 of 100 within, median`,
          ours: `${figures.checkout_p95_ms} / ${round(quantile(ours.latencies, 0.5))} ms`,
          yardstick: `Express that writes an order and a line: ${round(quantile(theirs.latencies, 0.95))} / ${round(quantile(theirs.latencies, 0.5))} ms`,
        },
      ],
    }
  } finally {
    await plain.stop()
  }
}

/** The picture of a personal deadline: drawn for this second, and asked for once more. */
async function measureCountdown(install: TestInstall, url: string): Promise<Found> {
  const { database: q, clock } = install.platform
  const deadline = await createDeadline(q, deadlineShape.parse({ name: 'Bench', begins: 'followup' }), {
    by: 'bench',
    at: new Date(clock.now()),
  })
  const people = await q.rows<{ id: number }>(
    `insert into personal_deadline (contact_id, offer, ends_at)
     select id, 'Bench', $1::timestamptz + id * interval '61 seconds' from contact order by id limit 40
     returning contact_id id`,
    [new Date(clock.now())],
  )
  const [fresh, again, sizes]: [number[], number[], number[]] = [[], [], []]
  for (const { id } of people) {
    const mark = readerMark(install.platform, id)
    const ask = async (): Promise<number> => {
      const begun = performance.now()
      const answer = await fetch(`${url}/countdown/own/${deadline}.gif?me=${mark}`)
      if (answer.status !== 200) throw new Error(`answered ${answer.status}`)
      sizes.push((await answer.arrayBuffer()).byteLength)
      return performance.now() - begun
    }
    fresh.push(await ask())
    again.push(await ask())
  }
  const figures = { gif_ms: round(quantile(fresh, 0.95)), gif_kb: round(Math.max(...sizes) / 1_000) }
  return {
    figures,
    lines: [
      {
        what: 'the picture of a personal deadline, 60 frames: drawn, 95 of 100 within, and its size',
        ours: `${figures.gif_ms} ms, ${figures.gif_kb} kB`,
        yardstick: `asked for again: ${round(quantile(again, 0.95))} ms`,
      },
    ],
  }
}

const balance = z.object({ charges: z.number() })

/** Orders while workers are killed and every report of the gateway comes twice. */
async function measureKills(
  install: TestInstall,
  env: Record<string, string>,
  killedOrders: number,
): Promise<Found> {
  const { platform } = install
  const { key } = gatewaySecrets(platform.settings)
  const charged = async (): Promise<number> =>
    balance.parse(
      await (
        await fetch(`${gatewayOf(install)}/charges/balance`, { headers: { authorization: `Bearer ${key}` } })
      ).json(),
    ).charges
  await typeCard(`${gatewayOf(install)}/card/twice-card`, 'twice')
  const sold = await sell(install, 'killed')
  const carts = await fillCarts(install, sold, killedOrders, () => 'twice-card')
  const [chargedBefore, paidBefore] = [await charged(), await countOf(install, `state = 'paid'`)]
  const onSale = await loadSite(platform.database)
  let waiting = [...carts]
  const place = async (): Promise<void> => {
    for (let cart = waiting.pop(); cart !== undefined; cart = waiting.pop()) {
      const token = readCart(platform, cart)
      if (token) await placeOrder(platform, token, onSale, { seen: 700, test: false })
    }
  }
  const begun = performance.now()
  const workers = [startWork(env), startWork(env)]
  let kills = 0
  const killing = setInterval(() => {
    const [oldest] = workers.splice(0, 1)
    kills += 1
    void oldest?.kill()
    workers.push(startWork(env))
  }, killEvery)
  try {
    await Promise.all(Array.from({ length: 2 }, place))
    await eventually(async () => (await countOf(install, `state = 'open'`)) < killedOrders * 0.02, 600_000)
  } finally {
    clearInterval(killing)
  }
  // Those that a killed worker held are freed when its heartbeat has stopped.
  await eventually(async () => (await countOf(install, `state = 'open'`)) === 0, 300_000)
  const took = (performance.now() - begun) / 1_000
  for (const worker of workers) await worker.stop()
  waiting = []
  const paid = (await countOf(install, `state = 'paid'`)) - paidBefore
  const charges = (await charged()) - chargedBefore
  const figures = { double_charges: charges - paid, lost_orders: killedOrders - paid }
  return {
    figures,
    lines: [
      {
        what: `${killedOrders.toLocaleString('en')} orders, ${kills} workers killed, each report twice: charged twice / lost`,
        ours: `${figures.double_charges} / ${figures.lost_orders}`,
        yardstick: `${charges.toLocaleString('en')} charges at the gateway, in ${round(took)} s`,
      },
    ],
  }
}

/** What a look for carts that were left takes, beside a million that are not due. */
async function measureOpenCarts(install: TestInstall): Promise<Found> {
  const { database: q, clock } = install.platform
  const look = async (): Promise<number> => {
    const times: number[] = []
    for (let n = 0; n < 20; n += 1) {
      const begun = performance.now()
      await noteLeftCarts(install.platform)
      times.push(performance.now() - begun)
    }
    return round(quantile(times, 0.5))
  }
  const without = await look()
  await q.rows(
    `insert into cart (token_hash, block, contact_id, address, address_key, trusted, items, card_session, began_at, changed_at)
     select sha256(convert_to('open' || i, 'UTF8')), 'block', (select min(id) from contact), 'x', 'x', true, '[]', '', $1, $1
     from generate_series(1, $2::int) i`,
    [new Date(clock.now()), openCarts],
  )
  await q.rows('vacuum analyze cart')
  const figures = { open_carts_look_ms: await look() }
  return {
    figures,
    lines: [
      {
        what: 'a look for carts that were left, beside 1,000,000 open ones that are not due',
        ours: `${figures.open_carts_look_ms} ms`,
        yardstick: `none: ${without} ms`,
      },
    ],
  }
}

/** Selling: the last places, orders at a rate, killed workers, open carts. @param args `--orders` while workers are killed */
export async function selling(args: string[]): Promise<void> {
  const { values } = parseArgs({ args, options: { orders: { type: 'string', default: '10000' } } })
  const orders = Number(values.orders)
  if (!(orders >= 100)) throw new Error('--orders takes a number of at least 100')
  await setup()
  const port = await freePort()
  const url = `http://127.0.0.1:${port}`
  // The gateway reports to the web process that is measured, by the same clock.
  const install = await openInstall({ NURTEL_URL: url })
  install.clock.move(systemClock.now() - install.clock.now())
  const env = envOf(install, port)
  // Gateway and mailbox are others' work: beside the load that is measured they would slow it down.
  await install.mail.stop()
  const standins = measurable(start('bin/nurtel.ts', ['standins'], env))
  setPriority(standins.pid, constants.priority.PRIORITY_LOW)
  await eventually(
    async () => (await fetch(`${gatewayOf(install)}/card/x`).catch(() => null)) !== null,
    30_000,
  )
  await typeCard(`${gatewayOf(install)}/card/${session}`, 'approved')
  const web = await startWeb(url, env)
  const worker = startWork(env)
  try {
    const found = [
      await measureRush(install, url),
      await measureSubmit(install, url, env),
      await measureCountdown(install, url),
    ]
    await eventually(async () => (await countOf(install, `state = 'open'`)) === 0, 120_000)
    await worker.stop()
    found.push(await measureKills(install, env, orders), await measureOpenCarts(install))
    report(
      'selling',
      found.flatMap(({ lines }) => lines),
      Object.assign({}, ...found.map(({ figures }) => figures)) as Record<string, number>,
    )
  } finally {
    await web.stop()
    await standins.stop()
    await install.close()
  }
}
