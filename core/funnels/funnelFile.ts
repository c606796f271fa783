import { z } from 'zod'
import { fieldKind, fieldOption } from '../audience/describing/field.ts'
import { condition } from '../audience/segments/condition.ts'
import { detailContent, detailName } from '../blocks/sharedDetail.ts'
import { target } from '../blocks/target.ts'
import { formContent } from '../capture/form.ts'
import { popUpContent } from '../capture/popUp.ts'
import { coupon } from '../commerce/coupon.ts'
import { deadline } from '../commerce/deadline.ts'
import { productContent } from '../commerce/product.ts'
import { emailContent } from '../email/email.ts'
import { linkAction } from '../email/linkAction.ts'
import { quizContent } from '../quizzes/quiz.ts'
import { labels } from '../blocks/publicPath.ts'
import { junctionContent } from '../junctions/junction.ts'
import { program } from '../followups/program.ts'
import { pageContent, pagePath, pagePurpose } from '../pages/page.ts'
import { goal, label, stations } from './funnel.ts'
import { funnelSettings } from './settings.ts'

/** Told apart from all other JSON by this. */
export const funnelFormat = 'nurtel-funnel'
/** Goes up when a file of the former kind can be read no more without being changed. */
export const funnelFileVersion = 1

const id = z.number().int().positive()
const name = z.string().trim().min(1).max(120)
const named = { id, name }
const most = <T extends z.ZodType>(each: T, count: number) => z.array(each).max(count).default([])
/** The bytes of a file in Base64 (RFC 4648 §4); null where they were left out. */
const bytes = z.base64().nullable()

/** A place that waits for the file that the funnel gives away. */
const fileSlot = z.discriminatedUnion('in', [
  z.strictObject({ in: z.literal('page'), page: id, block: z.string().max(20) }),
  z.strictObject({ in: z.literal('email'), email: id, block: z.string().max(20) }),
])
export type FileSlot = z.infer<typeof fileSlot>

/**
 * A funnel with all that stands on its line and hangs below it, as one JSON file. Things refer to each other by
 * numbers that mean something within the file only. Starters make the same.
 */
export const funnelFile = z.strictObject({
  format: z.literal(funnelFormat),
  version: z.literal(funnelFileVersion),
  funnel: z.strictObject({
    name,
    goal,
    labels: z.array(label).max(10).default([]),
    settings: funnelSettings,
    stations,
    fileSlots: most(fileSlot, 40),
    /** Follow-ups that belong to it although nothing on its line starts them. */
    followups: most(id, 60),
  }),
  pages: most(
    z.strictObject({
      ...named,
      path: pagePath,
      purpose: pagePurpose,
      course: id.nullable().default(null),
      content: pageContent,
    }),
    80,
  ),
  forms: most(z.strictObject({ ...named, content: formContent }), 80),
  popUps: most(z.strictObject({ ...named, content: popUpContent }), 40),
  junctions: most(z.strictObject({ ...named, labels: labels.default([]), content: junctionContent }), 40),
  quizzes: most(z.strictObject({ ...named, labels: labels.default([]), content: quizContent }), 20),
  products: most(z.strictObject({ ...named, content: productContent }), 40),
  /** By their names and codes, by which all else speaks of them. */
  deadlines: most(deadline, 40),
  coupons: most(coupon, 40),
  emails: most(z.strictObject({ ...named, content: emailContent }), 300),
  followups: most(z.strictObject({ ...named, content: program }), 60),
  courses: most(z.strictObject(named), 20),
  tags: most(z.strictObject(named), 200),
  topics: most(z.strictObject(named), 50),
  fields: most(z.strictObject({ ...named, kind: fieldKind, options: z.array(fieldOption).max(200) }), 100),
  segments: most(z.strictObject({ ...named, tree: condition }), 100),
  /** By their names only: how points are given is not the funnel's. */
  scorecards: most(z.strictObject(named), 20),
  details: most(z.strictObject({ id, name: detailName, content: detailContent }), 100),
  namedLinks: most(z.strictObject({ ...named, target, actions: z.array(linkAction).max(10) }), 100),
  pictures: most(z.strictObject({ ...named, alt: z.string().max(2_000), bytes }), 300),
  files: most(z.strictObject({ ...named, bytes }), 100),
  /** Links of its emails that conditions ask about. */
  links: most(z.strictObject({ id, email: id, block: z.string().max(60), part: z.string().max(60) }), 300),
})
export type FunnelFile = z.infer<typeof funnelFile>

/** The lists of a file that hold things with a number. */
export const listsOfFile = [
  'pages', 'forms', 'popUps', 'junctions', 'quizzes', 'products', 'emails', 'followups', 'courses', 'tags', 'topics', 'fields', 'segments', 'scorecards',
  'details', 'namedLinks', 'pictures', 'files', 'links',
] as const satisfies readonly (keyof FunnelFile)[] // prettier-ignore

/** A file with nothing but its funnel. */
export const emptyFunnelFile = (funnel: z.input<typeof funnelFile>['funnel']): FunnelFile =>
  funnelFile.parse({ format: funnelFormat, version: funnelFileVersion, funnel })

export type FunnelFileReading = { ok: true; file: FunnelFile } | { ok: false; reason: string }

const refused = (reason: string): FunnelFileReading => ({ ok: false, reason })

/** Two things of a kind with one number. */
function doubledIn(file: FunnelFile): string | undefined {
  return listsOfFile.find((list) => {
    const ids = file[list].map((each) => each.id)
    return new Set(ids).size < ids.length
  })
}

/** Reads a funnel file, or says why it cannot be read so that a person can act on it. */
export function readFunnelFile(text: string): FunnelFileReading {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    return refused('This is no JSON: the file is broken, or it is something else. Export the funnel again.')
  }
  const { format, version } = (typeof value === 'object' && value !== null ? value : {}) as Record<
    string,
    unknown
  >
  if (format !== funnelFormat)
    return refused('This is JSON, but no funnel: choose a file that “Export” of a funnel has made.')
  if (typeof version === 'number' && version > funnelFileVersion)
    return refused(
      `This funnel was exported by a newer Nurtel (version ${version} of the file; ${funnelFileVersion} can be read here). Update this one first.`,
    )
  const read = funnelFile.safeParse(value)
  if (!read.success) {
    const [issue] = read.error.issues
    const place = issue?.path.length ? issue.path.join(' › ') : 'the whole file'
    return refused(`Something in it is not as it should be: ${place}: ${issue?.message ?? 'unknown'}.`)
  }
  const doubled = doubledIn(read.data)
  return doubled === undefined
    ? { ok: true, file: read.data }
    : refused(`Two of its ${doubled} have the same number, so that nobody can tell which is meant.`)
}
