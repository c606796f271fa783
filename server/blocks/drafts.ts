import type { z } from 'zod'
import type { DraftState, FindingView, ThingState } from '../../contract/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'

/** Who has not been heard of for so long is no longer there (milliseconds). */
const presenceLasts = 60_000

/** A thing of the Library that has versions: what it is called, and which version its readers see. */
export interface Thing {
  id: number
  name: string
  publishedVersion: number | null
  archivedAt: Date | null
}

/** One version of what a thing says. The newest one that is not published is the draft. */
export interface Version<Content> {
  number: number
  content: Content
  /** Counts the saves of a draft. */
  revision: number
  madeAt: Date
  madeBy: string
}

/** Who does something, and when. */
export interface Doing {
  by: string
  at: Date
}

/** Where a save or a publication begins from. */
interface Began {
  version: number
  revision: number
}

/** What drafts must know of a kind of thing. */
export interface DraftKind<Content> {
  /** Its versions stand in `<table>_version`, who is at it in `<table>_editor`. */
  table: 'page' | 'form' | 'pop_up' | 'email' | 'followup' | 'junction' | 'quiz' | 'product'
  /** As in “This page”. */
  word: string
  shape: z.ZodType<Content>
  /** Takes out what must not be stored. */
  prepare: (content: Content) => Content
  /** What would go wrong, or could be better, were this live now. */
  findings: (q: Queries, id: number, content: Content, at: Date) => Promise<FindingView[]>
  /** @param q for the names of what it speaks of */
  describeChanges: (before: Content, after: Content, q: Queries) => string[] | Promise<string[]>
  /** What else happens when a version is published, in the same transaction. */
  published?: (q: Queries, id: number, version: Version<Content>, doing: Doing) => Promise<void>
}

export const stateOfThing = ({
  archivedAt,
  publishedVersion,
}: Pick<Thing, 'archivedAt' | 'publishedVersion'>): ThingState => {
  if (archivedAt !== null) return 'archived'
  return publishedVersion === null ? 'draft' : 'live'
}

const columns = 'number, content, revision, made_at "madeAt", made_by "madeBy"'

/** How things of a kind are drafted, published and brought back. */
export function draftsOf<Content>(kind: DraftKind<Content>) {
  const { table, word } = kind
  const versions = `${table}_version`
  const owner = `${table}_id`
  const gone = (): Problem => notFound(`This ${word}`)

  async function thing(q: Queries, id: number): Promise<Thing> {
    const found = await q.row<Thing>(
      `select id, name, published_version "publishedVersion", archived_at "archivedAt" from ${table} where id = $1`,
      [id],
    )
    if (!found) throw gone()
    return found
  }

  /** The newest version: the draft, or what is published. */
  async function newest(q: Queries, id: number, lock = false): Promise<Version<Content>> {
    const found = await q.row<Version<Content>>(
      `select ${columns} from ${versions} where ${owner} = $1 order by number desc limit 1 ${lock ? 'for update' : ''}`,
      [id],
    )
    if (!found) throw gone()
    return found
  }

  const version = (q: Queries, id: number, number: number): Promise<Version<Content> | undefined> =>
    q.row<Version<Content>>(`select ${columns} from ${versions} where ${owner} = $1 and number = $2`, [
      id,
      number,
    ])

  async function addVersion(
    q: Queries,
    id: number,
    number: number,
    content: Content,
    { by, at }: Doing,
  ): Promise<Version<Content>> {
    await q.rows(
      `insert into ${versions} (${owner}, number, content, made_at, made_by) values ($1, $2, $3, $4, $5)`,
      [id, number, JSON.stringify(content), at, by],
    )
    return { number, content, revision: 1, madeAt: at, madeBy: by }
  }

  /** Notes that somebody is at it, and says who else is. */
  async function othersAt(q: Queries, id: number, { by, at }: Doing): Promise<string[]> {
    await q.rows(
      `insert into ${table}_editor (${owner}, name, seen_at) values ($1, $2, $3)
       on conflict (${owner}, name) do update set seen_at = excluded.seen_at`,
      [id, by, at],
    )
    const others = await q.rows<{ name: string }>(
      `select name from ${table}_editor where ${owner} = $1 and name <> $2 and seen_at > $3 order by name`,
      [id, by, new Date(at.getTime() - presenceLasts)],
    )
    return others.map(({ name }) => name)
  }

  async function stateOf(q: Queries, of: Thing, draft: Version<Content>, doing: Doing): Promise<DraftState> {
    const published = of.publishedVersion === null ? undefined : await version(q, of.id, of.publishedVersion)
    return {
      version: draft.number,
      revision: draft.revision,
      savedAt: draft.madeAt.toISOString(),
      savedBy: draft.madeBy,
      changes: published ? await kind.describeChanges(published.content, draft.content, q) : [],
      findings: await kind.findings(q, of.id, draft.content, doing.at),
      others: await othersAt(q, of.id, doing),
    }
  }

  /** Refuses a change of what has been changed meanwhile, and says by whom. @throws Problem 409 */
  function refuseStale(draft: Version<Content>, began: Began): void {
    if (draft.number === began.version && draft.revision === began.revision) return
    throw new Problem(
      409,
      `${draft.madeBy} has changed this ${word} meanwhile`,
      'Nothing of yours is lost. Load their version, save yours over it, or keep yours as a copy.',
    )
  }

  /** Writes a content as the draft: over the one that there is, or as a new version after the published one. */
  async function write(
    q: Queries,
    of: Thing,
    latest: Version<Content>,
    content: Content,
    doing: Doing,
  ): Promise<Version<Content>> {
    if (latest.number === of.publishedVersion) return addVersion(q, of.id, latest.number + 1, content, doing)
    const revision = latest.revision + 1
    await q.rows(
      `update ${versions} set content = $3, revision = $4, made_at = $5, made_by = $6 where ${owner} = $1 and number = $2`,
      [of.id, latest.number, JSON.stringify(content), revision, doing.at, doing.by],
    )
    return { number: latest.number, content, revision, madeAt: doing.at, madeBy: doing.by }
  }

  return {
    thing,
    newest,

    findings: kind.findings,

    /** The first version of something new. */
    begin: (q: Queries, id: number, content: Content, doing: Doing): Promise<Version<Content>> =>
      addVersion(q, id, 1, kind.prepare(content), doing),

    /** A thing with its newest version, as its editor opens it. @throws Problem 404 */
    async view(q: Queries, id: number, doing: Doing) {
      const of = await thing(q, id)
      const draft = await newest(q, id)
      const all = await q.rows<Omit<Version<Content>, 'content'>>(
        `select number, revision, made_at "madeAt", made_by "madeBy" from ${versions}
         where ${owner} = $1 order by number desc limit 100`,
        [id],
      )
      return {
        id,
        name: of.name,
        state: stateOfThing(of),
        content: draft.content,
        publishedVersion: of.publishedVersion,
        versions: all.map(({ number, madeAt, madeBy }) => ({
          number,
          madeAt: madeAt.toISOString(),
          madeBy,
          published: number === of.publishedVersion,
        })),
        ...(await stateOf(q, of, draft, doing)),
      }
    },

    /** Saves what somebody has written, in a transaction. @throws Problem 409 when somebody else has saved meanwhile */
    async save(
      q: Queries,
      id: number,
      save: Began & { over: boolean; content: Content },
      doing: Doing,
    ): Promise<DraftState> {
      const of = await thing(q, id)
      const latest = await newest(q, id, true)
      if (!save.over) refuseStale(latest, save)
      return stateOf(q, of, await write(q, of, latest, kind.prepare(save.content), doing), doing)
    },

    /**
     * Shows its readers the newest version, in a transaction.
     * @throws Problem 409 when it is another than meant, 422 when it has errors
     */
    async publish(q: Queries, id: number, meant: Began, doing: Doing): Promise<void> {
      const draft = await newest(q, id, true)
      refuseStale(draft, meant)
      const errors = (await kind.findings(q, id, draft.content, doing.at)).filter(
        ({ level }) => level === 'error',
      )
      if (errors.length > 0)
        throw new Problem(422, `This ${word} is not ready`, errors.map(({ words }) => words).join('. '))
      await q.rows(
        `update ${table} set published_version = $2, published_at = $3, published_by = $4, archived_at = null where id = $1`,
        [id, draft.number, doing.at, doing.by],
      )
      await kind.published?.(q, id, draft, doing)
      await announce(q, 'pages')
    },

    /** Takes what an earlier version says as the draft; what was written since stays among the versions. */
    async goBack(q: Queries, id: number, number: number, doing: Doing): Promise<void> {
      await thing(q, id)
      const latest = await newest(q, id, true)
      const earlier = await version(q, id, number)
      if (!earlier) throw notFound('This version')
      await addVersion(q, id, latest.number + 1, kind.shape.parse(earlier.content), doing)
      await announce(q, 'pages')
    },

    /** Takes it away from its readers, or gives it back to them; nothing of it is lost. */
    async archive(q: Queries, id: number, archived: boolean, at: Date): Promise<void> {
      await thing(q, id)
      await q.rows(`update ${table} set archived_at = $2 where id = $1`, [id, archived ? at : null])
      await announce(q, 'pages')
    },
  }
}

/** How things that hold this content are drafted. */
export type Drafts<Content> = ReturnType<typeof draftsOf<Content>>
