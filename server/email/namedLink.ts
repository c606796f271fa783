import type { Target } from '../../core/blocks/target.ts'
import type { LinkAction } from '../../core/email/linkAction.ts'
import type { Queries } from '../database/connect.ts'

interface StoredLink {
  id: number
  name: string
  target: Target
  actions: LinkAction[]
}

/** A link that emails and pages share. */
export const namedLink = (q: Queries, id: number): Promise<StoredLink | undefined> =>
  q.row<StoredLink>('select id, name, target, actions from named_link where id = $1', [id])
