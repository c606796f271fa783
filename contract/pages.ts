import { z } from 'zod'
import { named, ownField } from './audience/describing.ts'
import { formContent } from '../core/capture/form.ts'
import { section } from '../core/blocks/document.ts'
import { brand } from '../core/pages/brand.ts'
import { pageContent, pagePath, pagePurpose } from '../core/pages/page.ts'
import { hostName, siteSettings } from '../core/pages/site.ts'
import { draftState, draftView, libraryName as name, saveOf, thingState, versionRoutes } from './drafts.ts'
import { created, get, post } from './route.ts'

const id = z.number().int().positive()

export const pageRow = z.object({
  id,
  name,
  path: z.string(),
  purpose: pagePurpose,
  state: thingState,
  /** The draft differs from what visitors see. */
  hasDraft: z.boolean(),
  changedAt: z.iso.datetime(),
  /** Within 30 days. */
  visitors: z.number().int(),
  /** Of these, who sent its form; null where it has none. */
  sent: z.number().int().nullable(),
  usedIn: z.array(z.string()),
  course: z.string().nullable(),
  /** A path that shows it as it is written now. */
  preview: z.string(),
})
export type PageRow = z.infer<typeof pageRow>

export const pageView = draftView.extend({
  path: z.string(),
  purpose: pagePurpose,
  url: z.string(),
  content: pageContent,
  course: id.nullable(),
})
export type PageView = z.infer<typeof pageView>

/** A new page: from a starting point, which the browser fills in, or from another page. */
export const newPage = z.object({
  name,
  path: pagePath,
  purpose: pagePurpose,
  content: pageContent,
  course: id.nullable().default(null),
})
export type NewPage = z.infer<typeof newPage>

export const pageSettings = z.object({ name, path: pagePath, purpose: pagePurpose, course: id.nullable() })
export type PageSettings = z.infer<typeof pageSettings>

const picture = z.object({
  id,
  name: z.string(),
  alt: z.string(),
  base: z.string(),
  width: z.number().int(),
  height: z.number().int(),
  widths: z.array(z.number().int()),
  usedIn: z.array(z.string()),
  createdAt: z.iso.datetime(),
})
export type PictureView = z.infer<typeof picture>

const file = z.object({
  id,
  name: z.string(),
  mediaType: z.string(),
  size: z.number().int(),
  /** A link is good for so many days, and for so many downloads; null: for any number. */
  linkDays: z.number().int(),
  mostDownloads: z.number().int().nullable(),
  hasPreview: z.boolean(),
  downloads: z.number().int(),
  /** Who took it, each once. */
  people: z.number().int(),
  versions: z.array(
    z.object({
      number: z.number().int(),
      name: z.string(),
      size: z.number().int(),
      madeAt: z.iso.datetime(),
      madeBy: z.string(),
      current: z.boolean(),
    }),
  ),
  usedIn: z.array(z.string()),
  createdAt: z.iso.datetime(),
})
export type FileView = z.infer<typeof file>

/** All that the editor needs to draw a page as the public site does, and to choose from. */
export const siteView = z.object({
  business: z.object({ name: z.string(), postalAddress: z.string(), zone: z.string() }),
  publicUrl: z.string(),
  brand,
  settings: siteSettings,
  pages: z.array(
    z.object({ id, name: z.string(), path: z.string(), purpose: pagePurpose, live: z.boolean() }),
  ),
  pictures: z.array(picture.omit({ usedIn: true })),
  /** Shared details that are pictures. */
  details: z.array(named.extend({ picture: id })),
  files: z.array(named.extend({ mediaType: z.string() })),
  tags: z.array(named),
  forms: z.array(named.extend({ live: z.boolean(), version: z.number().int(), content: formContent })),
  popUps: z.array(named.extend({ live: z.boolean() })),
  namedLinks: z.array(named),
  junctions: z.array(named.extend({ path: z.string(), live: z.boolean() })),
  quizzes: z.array(named.extend({ path: z.string(), live: z.boolean() })),
  /** Those that are not put away, with their prices in words. */
  products: z.array(
    named.extend({
      live: z.boolean(),
      title: z.string(),
      prices: z.array(z.object({ id: z.string(), name: z.string(), words: z.string() })),
    }),
  ),
  currency: z.string(),
  deadlines: z.array(named),
  scorecards: z.array(named),
  emails: z.array(named),
  fields: z.array(ownField),
  topics: z.array(named),
  followups: z.array(named),
  courses: z.array(
    named.extend({ lessons: z.array(z.object({ page: id, title: z.string(), live: z.boolean() })) }),
  ),
  savedSections: z.array(named.extend({ section })),
})
export type SiteView = z.infer<typeof siteView>

/** By what name and from where the business writes; it stands below pages and emails. */
export const siteSender = z.object({
  name: z.string().trim().min(1, 'Give the business a name').max(120),
  postalAddress: z.string().trim().max(300),
})
export type SiteSender = z.infer<typeof siteSender>

export const domainCheck = z.object({
  state: z.enum(['right', 'wrong', 'missing', 'unknown']),
  /** What was found, and what to set where that is not right. */
  words: z.string(),
})
export type DomainCheck = z.infer<typeof domainCheck>

export const fileEdit = z.object({
  name: z.string().trim().min(1, 'Give it a name').max(200),
  linkDays: z.number('Write a number of days').int().min(1).max(3_650),
  mostDownloads: z.number().int().min(1).max(1_000).nullable(),
})

const uploadQuery = z.object({
  name: z.string().trim().min(1).max(200),
  /** The thing whose place it takes; links to that stay. */
  replaces: z.coerce.number().int().positive().optional(),
})

export const pages = {
  ...versionRoutes('/pages'),
  list: get('/pages', { answer: z.array(pageRow) }),
  view: get('/pages/:id', { answer: pageView }),
  create: post('/pages', { body: newPage, answer: created }),
  /** Whether a path can be had; the answer is why not. */
  checkPath: post('/pages/check-path', {
    body: z.object({ path: z.string().max(200), page: id.nullable() }),
    answer: z.object({ fault: z.string().nullable() }),
  }),
  save: post('/pages/:id/save', { body: saveOf(pageContent), answer: draftState }),
  settings: post('/pages/:id/settings', { body: pageSettings }),
  /** A link that shows the draft for a week to whoever has it. */
  previewLink: post('/pages/:id/preview-link', { answer: z.object({ url: z.string() }) }),
} as const

export const site = {
  view: get('/site', { answer: siteView }),
  setBrand: post('/site/brand', { body: brand }),
  /** Whether a domain leads to this install. */
  checkDomain: post('/site/check-domain', { body: z.object({ domain: hostName }), answer: domainCheck }),
  setSender: post('/site/sender', { body: siteSender }),
  setSettings: post('/site/settings', { body: siteSettings }),
  saveSection: post('/site/sections', { body: z.object({ name, section }), answer: created }),
  deleteSection: post('/site/sections/:id/delete', {}),
  /** Puts the lessons of a course in an order. */
  orderLessons: post('/site/courses/:id/order', { body: z.object({ pages: z.array(id).max(500) }) }),
} as const

export const files = {
  pictures: get('/pictures', { answer: z.array(picture) }),
  uploadPicture: post('/pictures/upload', { query: uploadQuery, answer: created }),
  editPicture: post('/pictures/:id/edit', { body: z.object({ name, alt: z.string().max(2_000) }) }),
  deletePicture: post('/pictures/:id/delete', {}),
  files: get('/files', { answer: z.array(file) }),
  uploadFile: post('/files/upload', { query: uploadQuery, answer: created }),
  editFile: post('/files/:id/edit', { body: fileEdit }),
  /** Gives out an earlier version again. */
  useVersion: post('/files/:id/use-version', { body: z.object({ version: z.number().int().positive() }) }),
  /** A small picture of it. */
  preview: get('/files/:id/preview', {}),
  deleteFile: post('/files/:id/delete', {}),
} as const
