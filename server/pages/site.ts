import type { SiteSender } from '../../contract/pages.ts'
import { brand as brandShape, plainBrand, type Brand } from '../../core/pages/brand.ts'
import type { Target } from '../../core/blocks/target.ts'
import type { MergeFields } from '../../core/blocks/mergeValues.ts'
import type { PictureFiles } from '../../core/pages/context.ts'
import type { Lesson } from '../../core/pages/lessons.ts'
import type { PageContent, PagePurpose } from '../../core/pages/page.ts'
import { siteSettings, type SiteSettings } from '../../core/pages/site.ts'
import { loadMergeFields } from '../blocks/mergeFields.ts'
import { loadForms, type PublishedForm } from '../capture/publishedForms.ts'
import { loadPopUps, type PublishedPopUp } from '../capture/publishedPopUps.ts'
import type { Queries } from '../database/connect.ts'
import { loadLiveFunnels, type LiveFunnel } from '../funnels/funnels.ts'
import { loadJunctions, type PublishedJunction } from '../junctions/publishedJunctions.ts'
import { loadQuizzes, type PublishedQuiz } from '../quizzes/publishedQuizzes.ts'
import type { SoldProduct } from '../../core/commerce/cart.ts'
import { loadDeadlines, type KnownDeadline } from '../commerce/deadlines.ts'
import { loadOrderPages, loadProducts } from '../commerce/publishedProducts.ts'
import { getSelling, type Selling } from '../commerce/selling.ts'
import type { CourseContent } from '../../core/pages/course.ts'
import { loadCourses } from './courses.ts'
import { announce } from '../http/live.ts'
import type { Settings } from '../settings.ts'
import { queueJobs } from '../work/jobs.ts'
import { getBusiness } from '../workspace/business.ts'

/** A page as others lead to it. */
export interface SitePage {
  id: number
  path: string
  name: string
  purpose: PagePurpose
  title: string
  listed: boolean
  live: boolean
  course: number | null
  changedAt: number
}

/** All that pages rest on besides their own content, read at once. */
export interface Site {
  business: { name: string; postalAddress: string; zone: string }
  brand: Brand
  settings: SiteSettings
  pages: ReadonlyMap<number, SitePage>
  pictures: ReadonlyMap<number, PictureFiles>
  /** What texts can name besides what everybody has. */
  mergeFields: MergeFields
  /** Forms that visitors can use. */
  forms: ReadonlyMap<number, PublishedForm>
  /** In the order in which they open. */
  popUps: readonly PublishedPopUp[]
  /** Names of files that may play within a page, by id. */
  media: ReadonlySet<number>
  /** Live lessons of each course, in order. */
  courses: ReadonlyMap<number, readonly Lesson[]>
  /** How each course is meant: its name, and who may see it. */
  courseInfo: ReadonlyMap<number, CourseContent>
  /** Where each named link leads. */
  namedLinks: ReadonlyMap<number, Target>
  /** Junctions that send visitors on, by id. */
  junctions: ReadonlyMap<number, PublishedJunction>
  /** Quizzes that visitors can take, by id. */
  quizzes: ReadonlyMap<number, PublishedQuiz>
  /** What is on sale, by id. */
  products: ReadonlyMap<number, SoldProduct>
  /** The page on which each product can be bought. */
  orderPages: ReadonlyMap<number, number>
  selling: Selling
  /** Personal deadlines, by name. */
  deadlines: ReadonlyMap<string, KnownDeadline>
  /** The lines of funnels, by which a page knows its next step. */
  funnels: readonly LiveFunnel[]
}

interface PictureRow {
  id: number
  edition: string
  width: number
  height: number
  widths: number[]
}

type PageRow = SitePage & { opens: PageContent['opens'] | null }

async function readPictures(q: Queries): Promise<Site['pictures']> {
  const rows = await q.rows<PictureRow>(
    `select id, edition, width, height,
       to_json(array(select width from picture_file where picture_id = picture.id and format = 'webp' order by 1)) widths
     from picture`,
  )
  return new Map(
    rows.map(({ id, edition, ...size }) => [id, { base: `/pictures/${id}-${edition}`, ...size }]),
  )
}

async function readNamedLinks(q: Queries): Promise<Site['namedLinks']> {
  const rows = await q.rows<{ id: number; target: Target }>('select id, target from named_link')
  return new Map(rows.map(({ id, target }) => [id, target]))
}

function lessonsByCourse(rows: readonly PageRow[]): Site['courses'] {
  const courses = new Map<number, Lesson[]>()
  for (const { id, title, course, live, opens } of rows)
    if (course !== null && live && opens)
      courses.set(course, [...(courses.get(course) ?? []), { page: id, title, opens }])
  return courses
}

/** Reads what pages rest on. */
export async function loadSite(q: Queries): Promise<Site> {
  const { name, postalAddress, zone, brand, site } = await getBusiness(q)
  const rows = await q.rows<PageRow>(
    `select id, path, name, purpose, coalesce(content->>'title', name) title,
       coalesce((content->>'listed')::boolean, false) listed, course_id course, content->'opens' opens,
       published_version is not null and archived_at is null live,
       floor(extract(epoch from coalesce(published_at, created_at)) * 1000)::bigint "changedAt"
     from page left join page_version on page_id = id and number = published_version
     order by lesson_number nulls last, id`,
  )
  const media = await q.rows<{ id: number }>(
    `select id from file where media_type like 'video/%' or media_type = 'text/vtt'`,
  )
  return {
    business: { name, postalAddress, zone },
    brand: brandShape.safeParse(brand).data ?? plainBrand,
    settings: siteSettings.parse(site),
    pages: new Map(rows.map(({ opens: _, ...page }) => [page.id, page])),
    pictures: await readPictures(q),
    mergeFields: await loadMergeFields(q),
    popUps: await loadPopUps(q),
    forms: new Map((await loadForms(q)).map((form) => [form.id, form])),
    media: new Set(media.map(({ id }) => id)),
    courses: lessonsByCourse(rows),
    courseInfo: await loadCourses(q),
    namedLinks: await readNamedLinks(q),
    junctions: await loadJunctions(q),
    quizzes: await loadQuizzes(q),
    products: await loadProducts(q),
    orderPages: await loadOrderPages(q),
    selling: await getSelling(q),
    deadlines: new Map((await loadDeadlines(q)).map((each) => [each.name, each])),
    funnels: await loadLiveFunnels(q),
  }
}

/** Origins under which the public site is found. */
export const originsOfSite = ({ publicUrl }: Pick<Settings, 'publicUrl'>, { settings }: Site): string[] => [
  new URL(publicUrl).origin,
  ...settings.domains.map((domain) => `https://${domain}`),
]

/** Sets how the business looks to its public. */
export async function setBrand(q: Queries, brand: Brand): Promise<void> {
  await q.rows('update business set brand = $1', [JSON.stringify(brand)])
  await queueJobs(q, 'renewEmails', [{}])
  await announce(q, 'pages')
}

/** Sets by what name and from where the business writes. */
export async function setSender(q: Queries, { name, postalAddress }: SiteSender): Promise<void> {
  await q.rows('update business set name = $1, postal_address = $2', [name, postalAddress])
  await queueJobs(q, 'renewEmails', [{}])
  await announce(q, 'pages', 'workspace')
}

export async function setSiteSettings(q: Queries, settings: SiteSettings): Promise<void> {
  await q.rows('update business set site = $1', [JSON.stringify(settings)])
  await announce(q, 'pages')
}
