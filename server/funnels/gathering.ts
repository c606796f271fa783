import { buffer } from 'node:stream/consumers'
import { fieldKey } from '../../core/blocks/mergeText.ts'
import { numbersIn, type NumberedKind } from '../../core/blocks/renumber.ts'
import { leavesOf, type Condition } from '../../core/audience/segments/condition.ts'
import { emailsOf } from '../../core/followups/step.ts'
import { pagesOf } from '../../core/funnels/funnel.ts'
import { emptyFunnelFile, funnelFile, type FunnelFile } from '../../core/funnels/funnelFile.ts'
import { pageContent, type PagePurpose } from '../../core/pages/page.ts'
import { formContent } from '../../core/capture/form.ts'
import { popUpContent } from '../../core/capture/popUp.ts'
import { junctionContent } from '../../core/junctions/junction.ts'
import { quizContent } from '../../core/quizzes/quiz.ts'
import { coupon } from '../../core/commerce/coupon.ts'
import { productContent } from '../../core/commerce/product.ts'
import { emailContent } from '../../core/email/email.ts'
import { program } from '../../core/followups/program.ts'
import { mentionedIn } from '../blocks/sharedDetails.ts'
import { currentFile } from '../capture/files.ts'
import { databaseStore } from '../capture/fileStore.ts'
import { loadDeadlines } from '../commerce/deadlines.ts'
import type { Queries } from '../database/connect.ts'
import { pictureBytes } from '../pages/pictures.ts'
import { funnelById } from './funnels.ts'
import { formsOn, hangingBelow } from './hangingFollowups.ts'

/** What is left out of a file: nothing; the bytes of pictures and files; or all that a copy shares with what it is of. */
export type Gathering = 'whole' | 'withoutMedia' | 'own'

interface Written {
  id: number
  name: string
  content: unknown
}

/** The newest versions of things of a kind. */
const written = (
  q: Queries,
  table: 'page' | 'form' | 'pop_up' | 'email' | 'followup' | 'junction' | 'quiz' | 'product',
  ids: readonly number[],
): Promise<Written[]> =>
  q.rows<Written>(
    `select distinct on (id) id, name, content from ${table} join ${table}_version on ${table}_id = id
     where id = any($1) order by id, number desc`,
    [ids],
  )

const idsOf = (kind: NumberedKind, ...contents: readonly unknown[]): number[] => [
  ...new Set(
    contents.flatMap((each) => numbersIn(each).flatMap((one) => (one.kind === kind ? [one.id] : []))),
  ),
]

/** Quizzes and junctions that it leads by, with those that these lead to. */
async function gatherSorters(q: Queries, file: FunnelFile): Promise<void> {
  const labelled = async (table: 'junction' | 'quiz', ids: readonly number[]) => {
    const rows = await q.rows<{ id: number; labels: string[] }>(
      `select id, to_json(labels) labels from ${table} where id = any($1)`,
      [ids],
    )
    const labelsOf = new Map(rows.map(({ id, labels }) => [id, labels]))
    return (await written(q, table, ids)).map((each) => ({ ...each, labels: labelsOf.get(each.id) ?? [] }))
  }
  for (;;) {
    const isNew = (list: 'junctions' | 'quizzes'): number[] => {
      const known = new Set(file[list].map(({ id }) => id))
      return idsOf(list, file).filter((id) => !known.has(id))
    }
    const junctions = await labelled('junction', isNew('junctions'))
    const quizzes = await labelled('quiz', isNew('quizzes'))
    if (junctions.length + quizzes.length === 0) return
    for (const each of junctions)
      file.junctions.push({ ...each, content: junctionContent.parse(each.content) })
    for (const each of quizzes) file.quizzes.push({ ...each, content: quizContent.parse(each.content) })
  }
}

/** Forms by which quizzes ask for the address, and junctions for who comes. */
async function gatherAskedForms(q: Queries, file: FunnelFile): Promise<void> {
  const known = new Set(file.forms.map(({ id }) => id))
  const more = idsOf('forms', file.quizzes, file.junctions).filter((id) => !known.has(id))
  for (const each of await written(q, 'form', more))
    file.forms.push({ ...each, content: formContent.parse(each.content) })
}

/** What stands on the line and hangs below it, as it is written now. */
export async function gatherOwn(q: Queries, id: number): Promise<FunnelFile> {
  const { name, goal, labels, line, settings, fileSlots, followups: belonging } = await funnelById(q, id)
  const file = emptyFunnelFile({
    name,
    goal,
    labels,
    settings,
    stations: line,
    fileSlots,
    followups: belonging,
  })
  const ids = line.flatMap(pagesOf)
  const pages = await q.rows<{ id: number; path: string; purpose: PagePurpose; course: number | null }>(
    'select id, path, purpose, course_id course from page where id = any($1)',
    [ids],
  )
  const byId = new Map(pages.map((page) => [page.id, page]))
  for (const { id: page, name: called, content } of await written(q, 'page', ids)) {
    const row = byId.get(page)
    if (row) file.pages.push({ ...row, name: called, content: pageContent.parse(content) })
  }
  // What was deleted can be in no file; the line goes on without it.
  file.funnel.stations = line.filter((each) => pagesOf(each).every((page) => byId.has(page)))
  file.popUps = (await written(q, 'pop_up', idsOf('popUps', file.pages))).map((each) => ({
    ...each,
    content: popUpContent.parse(each.content),
  }))
  file.forms = (await written(q, 'form', idsOf('forms', file.pages, file.popUps))).map((each) => ({
    ...each,
    content: formContent.parse(each.content),
  }))
  const hanging = await hangingBelow(q, line, await formsOn(q, ids), belonging)
  // What others start too is theirs as well: it is neither copied nor made live with this funnel.
  const followups = [...new Set(hanging.all.flatMap(({ id: each, own }) => (own ? [each] : [])))]
  file.followups = (await written(q, 'followup', followups)).map((each) => ({
    ...each,
    content: program.parse(each.content),
  }))
  const emails = file.followups.flatMap(({ content }) => emailsOf(content))
  file.emails = (await written(q, 'email', emails)).map((each) => ({
    ...each,
    content: emailContent.parse(each.content),
  }))
  await gatherSorters(q, file)
  await gatherAskedForms(q, file)
  const courses = file.pages.flatMap(({ course }) => (course === null ? [] : [course]))
  file.courses = await q.rows('select id, name from course where id = any($1)', [courses])
  const links = idsOf('links', file.followups, file.pages, file.emails)
  file.links = await q.rows(
    'select id, email_id email, block, part from email_link where id = any($1) and email_id = any($2)',
    [links, file.emails.map((each) => each.id)],
  )
  return file
}

/** Segments that it names, with those that these name. */
async function gatherSegments(q: Queries, file: FunnelFile): Promise<void> {
  const all = await q.rows<{ id: number; name: string; tree: Condition }>(
    'select id, name, tree from segment order by id',
  )
  const wanted = new Set(idsOf('segments', file))
  const add = (id: number): void => {
    const found = all.find((each) => each.id === id)
    if (!found || file.segments.some((each) => each.id === id)) return
    for (const leaf of leavesOf(found.tree)) if (leaf.kind === 'segment') add(leaf.segment)
    file.segments.push(found)
  }
  for (const id of wanted) add(id)
}

/** Things that it shares with others, by their names. */
async function gatherShared(q: Queries, file: FunnelFile): Promise<void> {
  await gatherSegments(q, file)
  const { keys, details } = mentionedIn(file)
  file.details = (
    await q.rows<FunnelFile['details'][number] & { formerNames: string[] }>(
      'select id, name, content, to_json(former_names) "formerNames" from shared_detail order by id',
    )
  )
    .filter(
      ({ id, name, formerNames }) =>
        details.has(id) || [name, ...formerNames].some((each) => keys.has(fieldKey(each))),
    )
    .map(({ formerNames: _, ...detail }) => detail)
  file.namedLinks = await q.rows('select id, name, target, actions from named_link where id = any($1)', [
    idsOf('namedLinks', file),
  ])
  file.fields = (
    await q.rows<FunnelFile['fields'][number]>('select id, name, kind, options from field order by id')
  ).filter(({ id, name }) => keys.has(fieldKey(name)) || idsOf('fields', file).includes(id))
  for (const [list, table] of [
    ['topics', 'topic'],
    ['scorecards', 'scorecard'],
  ] as const)
    file[list] = await q.rows(`select id, name from ${table} where id = any($1) order by id`, [
      idsOf(list, file),
    ])
}

/** What its order pages sell, and the deadlines and coupons that it speaks of. */
async function gatherProducts(q: Queries, file: FunnelFile): Promise<void> {
  const read = async (ids: readonly number[]): Promise<FunnelFile['products']> =>
    (await written(q, 'product', ids)).map((each) => ({
      ...each,
      content: productContent.parse(each.content),
    }))
  const sold = await read(idsOf('products', file))
  const known = new Set(sold.map(({ id }) => id))
  const together = sold.flatMap(({ content }) => content.prices.flatMap((price) => price.products))
  file.products = [...sold, ...(await read(together.filter((id) => !known.has(id))))]
  const text = JSON.stringify(file)
  // They are spoken of by their names, in whatever way.
  const isNamed = (name: string): boolean => text.includes(JSON.stringify(name).slice(1, -1))
  file.deadlines = (await loadDeadlines(q))
    .filter(({ name }) => isNamed(name))
    .map(({ id: _, ...content }) => content)
  file.coupons = (
    await q.rows<{ content: unknown }>(
      `select content from coupon where content->'each' <> 'null' order by code`,
    )
  )
    .map(({ content }) => coupon.parse(content))
    .filter(({ code }) => isNamed(code))
}

/** Tags that it names. */
async function gatherTags(q: Queries, file: FunnelFile): Promise<void> {
  file.tags = await q.rows('select id, name from tag where id = any($1) order by id', [idsOf('tags', file)])
}

async function gatherMedia(q: Queries, file: FunnelFile, withBytes: boolean): Promise<void> {
  const pictures = await q.rows<{ id: number; name: string; alt: string }>(
    'select id, name, alt from picture where id = any($1) order by id',
    [idsOf('pictures', file)],
  )
  for (const picture of pictures) {
    const bytes = withBytes ? (await pictureBytes(q, picture.id)).toString('base64') : null
    file.pictures.push({ ...picture, name: picture.name.slice(0, 120), bytes })
  }
  for (const id of idsOf('files', file)) {
    const current = await currentFile(q, id)
    if (!current) continue
    const bytes = withBytes ? (await buffer(databaseStore(q).read(current.key))).toString('base64') : null
    file.files.push({ id, name: current.name.slice(-120), bytes })
  }
}

/** A funnel with all that belongs to it. @throws Problem 404 */
export async function gatherFunnel(q: Queries, id: number, which: Gathering): Promise<FunnelFile> {
  const file = await gatherOwn(q, id)
  if (which !== 'own') {
    await gatherProducts(q, file)
    await gatherShared(q, file)
    await gatherMedia(q, file, which === 'whole')
  }
  await gatherTags(q, file)
  return funnelFile.parse(file)
}
