import { isIP } from 'node:net'
import { z } from 'zod'

/** A network address, or a network of them in CIDR notation, or Express's names for the private ones. */
function isNetwork(text: string): boolean {
  if (['loopback', 'linklocal', 'uniquelocal'].includes(text)) return true
  const [address = '', bits, ...more] = text.split('/')
  const family = isIP(address)
  if (family === 0 || more.length > 0) return false
  return bits === undefined || (/^\d{1,3}$/.test(bits) && Number(bits) <= (family === 4 ? 32 : 128))
}

const networks = z
  .string()
  .default('')
  .transform((text) => text.split(/[\s,]+/).filter((each) => each !== ''))
  .refine(
    (list) => list.every(isNetwork),
    'must be addresses or networks with commas between them, such as 10.0.0.7, 10.1.0.0/16 or loopback',
  )

const port = (fallback: number) => z.coerce.number().int().min(1).max(65535).default(fallback)

const environment = z.object({
  DATABASE_URL: z.string().regex(/^postgres(ql)?:\/\//, 'DATABASE_URL must begin with postgres://'),
  NURTEL_SECRET: z.string().min(32, 'NURTEL_SECRET must have at least 32 characters'),
  /** The network address that web processes listen on. */
  NURTEL_HOST: z
    .string()
    .regex(
      /^[0-9a-zA-Z.:-]+$/,
      'must be an address of this machine or its name, such as 127.0.0.1 or 0.0.0.0',
    )
    .default('127.0.0.1'),
  NURTEL_PORT: port(4600),
  /** Proxies whose word on where a request comes from is taken (X-Forwarded-For); nobody else's is. */
  NURTEL_TRUSTED_PROXIES: networks,
  NURTEL_SMTP_PORT: port(4625),
  NURTEL_STANDINS_PORT: port(4680),
  /** The stand-in for a site of somebody else that shows our forms. */
  NURTEL_OTHER_SITE_PORT: port(4685),
  /** The stand-in for a gateway that charges cards. */
  NURTEL_GATEWAY_PORT: port(4690),
  /** A gateway that takes longer to answer (milliseconds) is asked later what became of it. */
  NURTEL_GATEWAY_PATIENCE: z.coerce.number().int().min(100).max(60_000).default(8_000),
  /** Where files of this install lie. */
  NURTEL_DATA_DIR: z.string().optional(),
  /** The address under which visitors reach this install. */
  NURTEL_URL: z.url({ protocol: /^https?$/ }).optional(),
  /** The real mail server; without it all mail goes to the stand-in's test inbox. */
  NURTEL_SMTP_URL: z.url({ protocol: /^smtps?$/ }).optional(),
  /** The name server that domains are checked with, or `system` for those of this machine; else the stand-in. */
  NURTEL_NAME_SERVER: z
    .string()
    .refine(
      (text) =>
        text === 'system' ||
        isIP(text) !== 0 ||
        (/^\d/.test(text) && isIP(text.replace(/:\d{1,5}$/, '')) === 4),
      'must be an address such as 10.0.0.2 or 10.0.0.2:53, or system',
    )
    .optional(),
  /** An instant at which the clock stands still (pictures, tests). */
  NURTEL_CLOCK: z.iso.datetime({ offset: true }).optional(),
  /** Requests a minute that one address may make to the public endpoints. */
  NURTEL_PUBLIC_RATE: z.coerce.number().int().min(1).default(120),
  /** Nobody fills in a form quicker than this (milliseconds): whoever does is asked to press the button again. */
  NURTEL_LEAST_FORM_TIME: z.coerce.number().int().min(0).max(60_000).default(1_500),
  /** People of the demo's story. */
  NURTEL_DEMO_PEOPLE: z.coerce.number().int().min(20).max(1_000_000).default(2_400),
  NURTEL_LOG: z.enum(['debug', 'info', 'warn', 'error', 'silent']).default('warn'),
})

export interface Settings {
  databaseUrl: string
  secret: string
  host: string
  port: number
  trustedProxies: string[]
  smtpPort: number
  standinsPort: number
  otherSitePort: number
  gatewayPort: number
  gatewayPatience: number
  dataDir: string | null
  publicUrl: string
  smtpUrl: string | null
  /** Null for those of the machine. */
  nameServer: string | null
  fixedClock: string | null
  publicRate: number
  leastFormTime: number
  demoPeople: number
  log: 'debug' | 'info' | 'warn' | 'error' | 'silent'
}

/** Reads the settings from the environment. @throws Error that names each variable at fault */
export function readSettings(env: Record<string, string | undefined>): Settings {
  const read = environment.safeParse(env)
  if (!read.success) {
    const faults = read.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`)
    throw new Error(`The environment is not usable. ${faults.join('; ')}`)
  }
  const set = read.data
  return {
    databaseUrl: set.DATABASE_URL,
    secret: set.NURTEL_SECRET,
    host: set.NURTEL_HOST,
    port: set.NURTEL_PORT,
    trustedProxies: set.NURTEL_TRUSTED_PROXIES,
    smtpPort: set.NURTEL_SMTP_PORT,
    standinsPort: set.NURTEL_STANDINS_PORT,
    otherSitePort: set.NURTEL_OTHER_SITE_PORT,
    gatewayPort: set.NURTEL_GATEWAY_PORT,
    gatewayPatience: set.NURTEL_GATEWAY_PATIENCE,
    dataDir: set.NURTEL_DATA_DIR ?? null,
    publicUrl: (set.NURTEL_URL ?? `http://127.0.0.1:${set.NURTEL_PORT}`).replace(/\/$/, ''),
    smtpUrl: set.NURTEL_SMTP_URL ?? null,
    nameServer:
      set.NURTEL_NAME_SERVER === 'system'
        ? null
        : (set.NURTEL_NAME_SERVER ?? `127.0.0.1:${set.NURTEL_STANDINS_PORT}`),
    fixedClock: set.NURTEL_CLOCK ?? null,
    publicRate: set.NURTEL_PUBLIC_RATE,
    leastFormTime: set.NURTEL_LEAST_FORM_TIME,
    demoPeople: set.NURTEL_DEMO_PEOPLE,
    log: set.NURTEL_LOG,
  }
}
