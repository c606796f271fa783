import { emailContent, type EmailContent } from '../../core/email/email.ts'
import { nothing, renumber, type NumberedKind } from '../../core/blocks/renumber.ts'
import type { Program } from '../../core/followups/program.ts'
import { pagesOf } from '../../core/funnels/funnel.ts'
import type { FunnelFile } from '../../core/funnels/funnelFile.ts'
import { movedPath } from '../../core/funnels/settings.ts'
import { saveSegmentIn } from '../audience/segments/segments.ts'
import type { Doing } from '../blocks/drafts.ts'
import { createForm } from '../capture/forms.ts'
import { createPopUp } from '../capture/popUps.ts'
import type { Queries } from '../database/connect.ts'
import { keepLinks } from '../email/emailLinks.ts'
import { createEmail } from '../email/emails.ts'
import { createFollowup } from '../followups/creating.ts'
import { createJunction } from '../junctions/junctions.ts'
import { createQuiz } from '../quizzes/quizzes.ts'
import { sorterIds } from './sortersOn.ts'
import { announce } from '../http/live.ts'
import { createPage, freePath } from '../pages/pages.ts'
import { createFunnel } from './funnels.ts'
import { placeOffers, placeProducts } from './placedProducts.ts'
import {
  byName,
  existing,
  inserted,
  newNumbers,
  renamed,
  placeMedia,
  placeWords,
  type Numbers,
  type Placing,
} from './placedThings.ts'

/** Writes anew what was made before the numbers of all others were known; it is still the first draft of nobody. */
async function rewrite(
  q: Queries,
  table: 'page' | 'form' | 'pop_up' | 'email' | 'followup' | 'junction' | 'quiz',
  id: number,
  content: unknown,
): Promise<void> {
  await q.rows(`update ${table}_version set content = $2 where ${table}_id = $1 and number = 1`, [
    id,
    JSON.stringify(content),
  ])
  if (table === 'followup')
    await q.rows('update followup set program = $2 where id = $1', [id, JSON.stringify(content)])
}

/** Links of an email that conditions ask about: kept under the same parts of the new one. */
async function placeLinks(
  q: Queries,
  file: FunnelFile,
  numbers: Numbers,
  email: number,
  here: number,
  content: EmailContent,
): Promise<void> {
  const asked = file.links.filter((each) => each.email === email)
  if (asked.length === 0) return
  await keepLinks(q, here, content)
  const rows = await q.rows<{ id: number; block: string; part: string }>(
    'select id, block, part from email_link where email_id = $1 and not gone',
    [here],
  )
  for (const { id, block, part } of asked) {
    const link = rows.find((row) => row.block === block && row.part === part)
    if (link) numbers.set('links', id, link.id)
  }
}

/** What a thing of the file is called here: after the new funnel, where it was called after the old one. */
const called =
  (file: FunnelFile, wish: Placing) =>
  (name: string): string =>
    renamed(name, file.funnel.name, wish.name).slice(0, 120)

/** Pages, forms, pop-ups and emails, then what they say once all have numbers. */
async function placeDocuments(
  q: Queries,
  file: FunnelFile,
  numbers: Numbers,
  wish: Placing,
  doing: Doing,
): Promise<void> {
  const named = called(file, wish)
  const from = file.funnel.settings.path
  for (const { id, name, path, purpose, course, content } of file.pages) {
    const wanted = from !== null && wish.path !== null ? movedPath(path, from, wish.path) : path
    const page = {
      name: named(name),
      path: await freePath(q, wanted),
      purpose,
      course: course === null ? null : existing(numbers.of('courses', course)),
      content,
    }
    numbers.set('pages', id, await createPage(q, page, doing.by, doing.at))
  }
  for (const { id, name, content } of file.forms)
    numbers.set('forms', id, await createForm(q, { name: named(name), content }, doing))
  for (const { id, name, content } of file.popUps)
    numbers.set('popUps', id, await createPopUp(q, { name: named(name), content }, doing))
  for (const { id, name, labels, content } of file.junctions)
    numbers.set('junctions', id, await createJunction(q, { name: named(name), labels, content }, doing))
  for (const { id, name, labels, content } of file.quizzes)
    numbers.set('quizzes', id, await createQuiz(q, { name: named(name), labels, content }, doing))
  for (const { id, name, content } of file.emails)
    numbers.set('emails', id, await createEmail(q, { name: named(name), content }, doing))
  for (const { id, name, tree } of file.segments)
    numbers.set(
      'segments',
      id,
      (await byName(q, 'segment', name)) ??
        (await saveSegmentIn(
          q,
          null,
          { name: name.slice(0, 80), tree: renumber(tree, numbers.of) },
          doing.at,
        )),
    )
  // A program may start another one: each gets its number first, with nothing to do.
  const empty = (program: Program): Program => ({ ...program, startsWhen: [], leavesWhen: [], steps: [] })
  for (const { id, name, content } of file.followups) {
    const { entryCondition: _, ...rest } = content
    numbers.set('followups', id, await createFollowup(q, named(name), empty(rest), doing))
  }
  for (const { id, name, target, actions } of file.namedLinks)
    numbers.set(
      'namedLinks',
      id,
      (await byName(q, 'named_link', name)) ??
        (await inserted(
          q,
          'insert into named_link (name, target, actions, changed_at, changed_by) values ($1, $2, $3, $4, $5)',
          [
            name,
            JSON.stringify(renumber(target, numbers.of)),
            JSON.stringify(renumber(actions, numbers.of)),
            doing.at,
            doing.by,
          ],
        )),
    )
}

/** What all of them say, with the numbers that things have here. */
async function connect(q: Queries, file: FunnelFile, numbers: Numbers): Promise<void> {
  const here = (kind: NumberedKind, id: number): number => numbers.of(kind, id) ?? nothing
  const stored = async <C>(
    table: 'page' | 'form' | 'pop_up' | 'email' | 'junction' | 'quiz',
    id: number,
  ): Promise<C> => {
    // What was taken out of it as unsafe when it was made stays out.
    const row = await q.row<{ content: C }>(
      `select content from ${table}_version where ${table}_id = $1 and number = 1`,
      [id],
    )
    if (!row) throw new Error('a thing that was just made is gone')
    return row.content
  }
  const lists = [
    ['page', 'pages', file.pages],
    ['form', 'forms', file.forms],
    ['pop_up', 'popUps', file.popUps],
    ['junction', 'junctions', file.junctions],
    ['quiz', 'quizzes', file.quizzes],
  ] as const
  for (const [table, kind, things] of lists)
    for (const { id } of things) {
      const mine = here(kind, id)
      await rewrite(q, table, mine, renumber(await stored(table, mine), numbers.of))
    }
  for (const { id } of file.emails) {
    const mine = here('emails', id)
    const content = renumber(emailContent.parse(await stored('email', mine)), numbers.of)
    const connected = { ...content, topic: existing(content.topic) }
    await rewrite(q, 'email', mine, connected)
    await placeLinks(q, file, numbers, id, mine, connected)
  }
  for (const { id, content } of file.followups)
    await rewrite(q, 'followup', here('followups', id), renumber(content, numbers.of))
}

/**
 * Makes a funnel of a file with all that is in it, as drafts, in the transaction of `q`. Nothing that is here is
 * changed: tags, topics, fields and the like of the same name are used, addresses that are taken get a number.
 * @returns the funnel's id
 */
export async function placeFunnel(
  q: Queries,
  file: FunnelFile,
  wish: Placing,
  doing: Doing,
): Promise<number> {
  const numbers = newNumbers(wish.known)
  await placeMedia(q, file, numbers, doing)
  await placeWords(q, file, numbers, wish, doing)
  const products = await placeProducts(q, file, numbers, called(file, wish), doing)
  await placeDocuments(q, file, numbers, wish, doing)
  await connect(q, file, numbers)
  await products.connect()
  await placeOffers(q, file, numbers, doing)
  await announce(q, 'audience', 'email')
  const { goal, labels, settings, stations, fileSlots, followups } = file.funnel
  const line = renumber(stations, numbers.of).filter(
    (each) =>
      !pagesOf(each).includes(nothing) &&
      !sorterIds([each], 'junction').includes(nothing) &&
      !sorterIds([each], 'quiz').includes(nothing),
  )
  const here = renumber(settings, numbers.of)
  return createFunnel(
    q,
    {
      name: wish.name,
      goal,
      labels,
      line,
      settings: { ...here, icon: existing(here.icon), path: wish.path },
      fileSlots: renumber(fileSlots, numbers.of),
      followups: renumber({ followups }, numbers.of).followups.filter((each) => each !== nothing),
      starter: wish.starter ?? null,
    },
    doing,
  )
}
