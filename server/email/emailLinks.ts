import { clickActions, type EmailContent } from '../../core/email/email.ts'
import type { Queries } from '../database/connect.ts'

/**
 * Keeps the links of a published email. A link that stays in its block stays the same, with its clicks; one that leads
 * elsewhere now leads there from mail that was sent before, too.
 * @returns their ids, in the order in which the templates number them
 */
export async function keepLinks(q: Queries, email: number, content: EmailContent): Promise<number[]> {
  const all = clickActions(content)
  const links = all.map(({ link }) => link)
  await q.rows('update email_link set gone = true where email_id = $1', [email])
  const kept = await q.rows<{ id: number; block: string; part: string }>(
    `insert into email_link (email_id, position, label, target, block, part, actions)
     select $1, position - 1, label, target, block, part, actions
     from unnest($2::text[], $3::text[], $4::text[], $5::jsonb[], $6::jsonb[]) with ordinality
       t (block, part, label, target, actions, position)
     on conflict (email_id, block, part)
       do update set position = excluded.position, label = excluded.label, target = excluded.target,
         actions = excluded.actions, gone = false
     returning id, block, part`,
    [
      email,
      links.map(({ block }) => block),
      links.map(({ part }) => part),
      links.map(({ label }) => label.slice(0, 200) || 'link'),
      links.map(({ target }) => JSON.stringify(target)),
      all.map(({ actions }) => JSON.stringify(actions)),
    ],
  )
  const ids = new Map(kept.map(({ id, block, part }) => [`${block} ${part}`, id]))
  return links.map(({ block, part }) => ids.get(`${block} ${part}`) ?? 0)
}
