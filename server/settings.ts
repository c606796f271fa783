import { z } from 'zod'

const port = (fallback: number) => z.coerce.number().int().min(1).max(65535).default(fallback)

const environment = z.object({
  DATABASE_URL: z.string().regex(/^postgres(ql)?:\/\//, 'DATABASE_URL must begin with postgres://'),
  NURTEL_SECRET: z.string().min(32, 'NURTEL_SECRET must have at least 32 characters'),
  NURTEL_PORT: port(4600),
  NURTEL_SMTP_PORT: port(4625),
  NURTEL_STANDINS_PORT: port(4680),
  /** Where files of this install lie. */
  NURTEL_DATA_DIR: z.string().optional(),
  /** The address under which visitors reach this install. */
  NURTEL_URL: z.url({ protocol: /^https?$/ }).optional(),
  /** The real mail server; without it all mail goes to the stand-in's test inbox. */
  NURTEL_SMTP_URL: z.url({ protocol: /^smtps?$/ }).optional(),
  /** An instant at which the clock stands still (pictures, tests). */
  NURTEL_CLOCK: z.iso.datetime({ offset: true }).optional(),
  /** Requests a minute that one address may make to the public endpoints. */
  NURTEL_PUBLIC_RATE: z.coerce.number().int().min(1).default(120),
  NURTEL_LOG: z.enum(['debug', 'info', 'warn', 'error', 'silent']).default('warn'),
})

export interface Settings {
  databaseUrl: string
  secret: string
  port: number
  smtpPort: number
  standinsPort: number
  dataDir: string | null
  publicUrl: string
  smtpUrl: string | null
  fixedClock: string | null
  publicRate: number
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
    port: set.NURTEL_PORT,
    smtpPort: set.NURTEL_SMTP_PORT,
    standinsPort: set.NURTEL_STANDINS_PORT,
    dataDir: set.NURTEL_DATA_DIR ?? null,
    publicUrl: (set.NURTEL_URL ?? `http://127.0.0.1:${set.NURTEL_PORT}`).replace(/\/$/, ''),
    smtpUrl: set.NURTEL_SMTP_URL ?? null,
    fixedClock: set.NURTEL_CLOCK ?? null,
    publicRate: set.NURTEL_PUBLIC_RATE,
    log: set.NURTEL_LOG,
  }
}
