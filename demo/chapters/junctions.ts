import type { Condition } from '../../core/audience/segments/condition.ts'
import { junctionContent, otherwise, type JunctionContent } from '../../core/junctions/junction.ts'
import type { Target } from '../../core/blocks/target.ts'
import type { Queries } from '../../server/database/connect.ts'
import type { Doing } from '../../server/blocks/drafts.ts'
import { junctionDrafts } from '../../server/junctions/junctionDrafts.ts'
import { createJunction } from '../../server/junctions/junctions.ts'
import { pageDrafts } from '../../server/pages/drafts.ts'
import type { Platform } from '../../server/platform.ts'
import { signInOf } from '../accounts.ts'
import { compose } from '../composer.ts'
import type { Story } from '../story.ts'
import { createPage } from './create.ts'

const { block, text, section } = compose
const day = 86_400_000
/** People who passed lately, of five who signed up. */
const passed = 3

const not = (of: Condition): Condition => ({ kind: 'not', of })
const all = (...of: Condition[]): Condition => ({ kind: 'all', of })
const tagged = (tag: number): Condition => ({ kind: 'hasTag', tag })

const circleSections = [
  section(
    [
      {
        blocks: [
          block('heading', { level: 1, words: 'Keep binding, in company' }),
          text(
            'The Bindery Circle meets on the first Thursday of each month: one binding, start to finish, and a table full of people who have the same glue on their fingers.',
            'Members read in the reading room whenever they like.',
          ),
          block('button', { label: 'Tell me more', target: { to: 'path', path: '/p/letter' } }),
        ],
      },
    ],
    { width: 'narrow' },
  ),
]

/** After the templates: who has what already sees what comes next for them. */
function whatNext(tags: { journal: number; circle: number }, to: Record<string, Target>): JunctionContent {
  const [journal, circle] = [tagged(tags.journal), tagged(tags.circle)]
  const rule = (id: string, name: string, when: Condition, target: Target | undefined) => ({
    id,
    name,
    when,
    target,
  })
  return junctionContent.parse({
    rules: [
      rule('newcomers', 'New here', all(not(journal), not(circle)), to.journal),
      rule('journalbuyers', 'Bound their first journal', all(journal, not(circle)), to.circle),
      rule('everybodyelse', 'Has one or the other', { kind: 'any', of: [journal, circle] }, to.thanks),
    ],
    otherwise: to.thanks,
  })
}

/** Begun, and wrong: the second rule asks for people whom the first has taken. */
function fairTable(tags: { journal: number }, letter: number, to: Record<string, Target>): JunctionContent {
  return junctionContent.parse({
    rules: [
      { id: 'letterreaders', when: { kind: 'topic', topic: letter }, target: to.circle },
      {
        id: 'loyalreaders',
        name: 'Readers with a journal',
        when: all({ kind: 'topic', topic: letter }, tagged(tags.journal)),
        target: to.thanks,
      },
      { id: 'quietpeople', when: { kind: 'state', is: ['unsubscribed'] }, target: to.letter },
    ],
    otherwise: to.journal,
  })
}

/** The thank-you page of the templates leads on by a junction. */
async function linkFromThanks(q: Queries, page: number, junction: number, doing: Doing): Promise<void> {
  const { content, number: version, revision } = await pageDrafts.newest(q, page)
  const button = block('button', { label: 'What fits you next?', target: { to: 'junction', junction } })
  const document = {
    sections: [...content.document.sections, section([{ blocks: [button] }], { width: 'narrow' })],
  }
  const saved = await pageDrafts.save(
    q,
    page,
    { version, revision, over: false, content: { ...content, document } },
    doing,
  )
  await pageDrafts.publish(q, page, { version: saved.version, revision: saved.revision }, doing)
}

/** Three of five who signed up within a month have pressed the button since, as their journals say. */
async function passPeople(
  q: Queries,
  junction: number,
  tags: { journal: number; circle: number },
  now: number,
): Promise<void> {
  await q.rows(
    `with signed as (
       select contact_id, max(at) at from activity join contact on contact.id = contact_id and not rehearsal
       where kind = 'formSent' and at between $2::timestamptz - interval '30 days' and $2::timestamptz - interval '1 hour'
         and contact_id % 5 < $3 group by 1
     ), sorted as (
       select contact_id, at + interval '90 seconds' as at, case when not journal and not circle then 1 when journal and not circle then 2 else 3 end n,
         journal, circle
       from signed cross join lateral (
         select exists (select from contact_tag where contact_tag.contact_id = signed.contact_id and tag_id = $4) journal,
           exists (select from contact_tag where contact_tag.contact_id = signed.contact_id and tag_id = $5) circle) has
     )
     insert into activity (contact_id, kind, at, details)
     select contact_id, 'junctionPassed', at, jsonb_build_object('junction', $1::bigint,
       'rule', (array['newcomers', 'journalbuyers', 'everybodyelse'])[n],
       'to', (array['the page “Bind Your First Journal”', 'the page “Bindery Circle”', 'the page “Template pack: thank you”'])[n],
       'why', 'has the tag “Journal buyer”: ' || case when journal then 'yes' else 'no' end || ' and has the tag “Circle member”: '
         || case when circle then 'yes' else 'no' end)
     from sorted order by at`,
    [junction, new Date(now), passed, tags.journal, tags.circle],
  )
  await q.rows(
    `insert into junction_pass (junction_id, day, rule, known, strangers)
     select $1, (at at time zone (select zone from business))::date, details->>'rule', count(*), 0
     from activity where kind = 'junctionPassed' and (details->>'junction')::bigint = $1 group by 2, 3`,
    [junction],
  )
  // Visitors who pressed it without being known.
  await q.rows(
    `insert into junction_pass (junction_id, day, rule, known, strangers)
     select $1, ($2::timestamptz at time zone (select zone from business))::date - back, $3, 0, 1 + (back * 7) % 4
     from generate_series(1, 29) back`,
    [junction, new Date(now), otherwise],
  )
}

/** Makes the junctions of the story, one of them with a rule that nobody reaches. */
export async function create(platform: Platform, { shop, letter }: Story, founded: Date): Promise<void> {
  const { database, settings, clock } = platform
  const now = clock.now()
  const doing = { by: signInOf.name, at: new Date(now - 40 * day) }
  await database.inTransaction(async (tx) => {
    const circlePage = await createPage(
      tx,
      {
        path: 'bindery-circle',
        name: 'Bindery Circle',
        purpose: 'sales',
        title: 'The Bindery Circle',
        description: 'One binding a month, in company.',
        sections: circleSections,
      },
      founded,
    )
    const page = async (path: string): Promise<number> => {
      const row = await tx.row<{ id: number }>('select id from page where path = $1', [path])
      if (!row) throw new Error(`the story has no page ${path}`)
      return row.id
    }
    const thanks = await page('template-pack/thanks')
    const to = {
      thanks: { to: 'page', page: thanks },
      letter: { to: 'page', page: await page('letter') },
      journal: { to: 'page', page: await page('first-journal') },
      circle: { to: 'page', page: circlePage },
    } as const
    const tags = { journal: shop.journalBuyer, circle: shop.circleMember }
    const content = whatNext(tags, to)
    const next = await createJunction(
      tx,
      { name: 'After the templates', content, labels: ['templates'] },
      doing,
    )
    await junctionDrafts(settings.publicUrl).publish(tx, next, { version: 1, revision: 1 }, doing)
    await linkFromThanks(tx, thanks, next, doing)
    await passPeople(tx, next, tags, now)
    const lately = { by: signInOf.name, at: new Date(now - 2 * day) }
    const fair = fairTable(tags, letter.topics.letter, to)
    await createJunction(tx, { name: 'Fair table card', content: fair, labels: ['fairs'] }, lately)
  })
}
