import { sharedNames } from '../../core/blocks/mergeValues.ts'
import { isDocumentPersonal } from '../../core/blocks/walk.ts'
import type { PageContent } from '../../core/pages/page.ts'
import type { Database } from '../database/connect.ts'
import type { Live } from '../http/live.ts'
import { loadSite, type Site } from './site.ts'

/** A page as visitors find it. */
export interface PublishedPage {
  id: number
  path: string
  name: string
  version: number
  content: PageContent
  /** Does it say something else to different people? Others get what is rendered once. */
  personal: boolean
}

/** What stands at a path: a page, another path where it is now, or nothing. */
export type Found = { page: PublishedPage } | { movedTo: string } | null

/** Pages that a process keeps in memory; the oldest go first. */
const mostKept = 500

/** The public site as one web process knows it: read once, and again after a change. */
export interface PublishedPages {
  site(): Promise<Site>
  at(path: string): Promise<Found>
  /** Another number after each change. */
  readonly edition: number
}

async function find(q: Database, path: string, shared: ReadonlySet<string>): Promise<Found> {
  const page = await q.row<Omit<PublishedPage, 'personal'>>(
    `select id, path, name, number as version, content
     from page join page_version on page_id = id and number = published_version
     where path = $1 and archived_at is null`,
    [path],
  )
  if (page) {
    const { limitedTo, deadline, document } = page.content
    const personal = limitedTo !== null || Boolean(deadline) || isDocumentPersonal(document, shared)
    return { page: { ...page, personal } }
  }
  const moved = await q.row<{ path: string }>(
    `select page.path from page_former_path join page on page.id = page_id
     where page_former_path.path = $1 and published_version is not null and archived_at is null`,
    [path],
  )
  return moved ? { movedTo: moved.path } : null
}

/** Keeps what is published in memory until somebody says that it changed (LISTEN/NOTIFY, every web process). */
export function openPublishedPages(database: Database, live: Live): PublishedPages {
  let site: Promise<Site> | null = null
  let pages = new Map<string, Promise<Found>>()
  let edition = 0
  live.onChange((subject) => {
    if (subject !== 'pages') return
    site = null
    pages = new Map()
    edition += 1
  })
  function kept(): Promise<Site> {
    // What failed is asked again.
    site ??= loadSite(database).catch((error: unknown) => {
      site = null
      throw error
    })
    return site
  }
  return {
    get edition() {
      return edition
    },
    site: kept,
    async at(path) {
      const inMemory = pages.get(path)
      if (inMemory) return inMemory
      const mine = pages
      const asked = kept().then(({ mergeFields }) => find(database, path, sharedNames(mergeFields)))
      mine.set(path, asked)
      // Addresses that lead nowhere are not kept: strangers could fill the memory with them.
      const forget = (): boolean => mine.delete(path)
      asked.then((found) => found === null && forget(), forget)
      const oldest = mine.keys().next()
      if (mine.size > mostKept && !oldest.done) mine.delete(oldest.value)
      return asked
    },
  }
}
